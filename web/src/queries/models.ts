import { keepPreviousData, type QueryClient, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef } from "react";
import {
  type BenchView,
  type Configuration,
  client,
  type DirectionTable,
  done,
  type ModelDetail,
  unwrap,
  type WeighingRequest,
} from "../api/client";
import { newId } from "../domain/identity";
import { modelWith } from "../offline/overlay";
import { useOnDevice } from "../offline/use-outbox";
import { useNewest } from "./newest";

export const keys = {
  shelf: ["models"] as const,
  model: (id: string) => ["model", id] as const,
  bench: (id: string) => ["model", id, "bench"] as const,
  plan: (id: string) => ["model", id, "plan"] as const,
  rework: (id: string) => ["model", id, "rework"] as const,
  next: (id: string) => ["model", id, "next"] as const,
  emergencies: (id: string) => ["model", id, "emergencies"] as const,
  board: (id: string) => ["model", id, "board"] as const,
  sortie: (id: string) => ["sortie", id] as const,
  directions: (layout: string) => ["directions", layout] as const,
  debrief: (id: string) => ["debrief", id] as const,
};

/** A changed model: show it at once, fetch all that depends on it anew. */
export function accept(cache: QueryClient, model: ModelDetail): void {
  cache.setQueryData(keys.model(model.id), model);
  void cache.invalidateQueries({ queryKey: keys.shelf });
  for (const part of ["bench", "plan", "next", "emergencies", "rework", "board", "hand-over", "notes"])
    void cache.invalidateQueries({ queryKey: ["model", model.id, part] });
}

export const modelOf = (id: string) => ({
  queryKey: keys.model(id),
  queryFn: () => unwrap(client.GET("/api/v1/models/{model_id}", { params: { path: { model_id: id } } })),
});

/** The model to change: a page that was just opened shows what was kept until the program has said what is so now. */
async function newestOf(cache: QueryClient, id: string): Promise<ModelDetail | undefined> {
  const underWay = cache.getQueryState(keys.model(id))?.fetchStatus === "fetching";
  if (underWay) await cache.fetchQuery({ ...modelOf(id), retry: false }).catch(() => undefined);
  return cache.getQueryData<ModelDetail>(keys.model(id));
}

/** The version of the setup this page shows, as a condition of a change. */
export async function ifMatch(cache: QueryClient, id: string): Promise<{ "If-Match": string }> {
  return { "If-Match": `"setup-${(await newestOf(cache, id))?.revision ?? 0}"` };
}

export const SHELF = { queryKey: keys.shelf, queryFn: () => unwrap(client.GET("/api/v1/models")) };

export function useShelf() {
  return useQuery(SHELF);
}

export function useSilhouettes() {
  return useQuery({
    queryKey: ["silhouettes"],
    queryFn: () => unwrap(client.GET("/api/v1/silhouettes")),
    staleTime: Number.POSITIVE_INFINITY,
  });
}

/** Every direction in words, for what pitches this model and for this pilot's radio: a pilot who has entered it is told which stick it is. */
export function directionsOf(model: ModelDetail) {
  const radio = model.setup.controls?.radio;
  const layout = model.pitch_control;
  const query = radio ? { layout, mode: radio.mode, levers: (radio.levers_reversed ?? []).join(",") } : { layout };
  return {
    queryKey: (radio ? [...keys.directions(layout), query] : keys.directions(layout)) as readonly unknown[],
    queryFn: () => unwrap(client.GET("/api/v1/directions", { params: { query } })),
  };
}

export function useDirections(model: ModelDetail | null) {
  return useQuery({
    ...(model ? directionsOf(model) : NO_DIRECTIONS),
    enabled: model !== null,
    staleTime: Number.POSITIVE_INFINITY,
  });
}

const NO_DIRECTIONS = {
  queryKey: ["directions"] as readonly unknown[],
  queryFn: (): Promise<DirectionTable> => Promise.reject(new Error("no model")),
};

/** A model, with what was begun and landed on this device. */
export function useModel(id: string) {
  const here = useOnDevice();
  return useQuery({
    ...modelOf(id),
    select: (model: ModelDetail) => modelWith(model, here),
    enabled: id !== "",
  });
}

export const benchOf = (id: string) => ({
  queryKey: keys.bench(id),
  queryFn: ({ signal }: { signal: AbortSignal }) =>
    unwrap(client.GET("/api/v1/models/{model_id}/bench", { params: { path: { model_id: id } }, signal })),
});

/**
 * The bench's numbers: of the saved setup, or of a draft while something is being moved. One what-if is under way at a time
 * and the newest draft goes next, so that the numbers follow a drag and the last one is never behind a queue.
 */
export function useBench(id: string, draft: Configuration | null) {
  const saved = useQuery({ ...benchOf(id), placeholderData: keepPreviousData, retry: false });
  const moved = useNewest(draft, (setup) =>
    unwrap(client.POST("/api/v1/models/{model_id}/what-if", { params: { path: { model_id: id } }, body: setup })),
  );
  // Let go and saved: what was last computed stands until the saved setup has been asked for anew.
  const last = useRef<BenchView | null>(null);
  if (moved.data) last.current = moved.data;
  else if (draft === null && !saved.isFetching) last.current = null;
  return {
    data: moved.data ?? last.current ?? saved.data,
    error: moved.error ?? saved.error,
    behind: moved.behind || saved.isPlaceholderData,
    refetch: saved.refetch,
    ahead: moved.ahead,
  };
}

export function useCreateModel() {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: (body: { name: string; silhouette: string; span_m: number; rehearsal: boolean }) =>
      unwrap(client.POST("/api/v1/models", { body: { id: newId(), ...body } })),
    onSuccess: (model) => accept(cache, model),
  });
}

/** Call a model otherwise, and tell its story otherwise. */
export function useRename(id: string) {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: (body: { name: string; story: string }) =>
      unwrap(client.PATCH("/api/v1/models/{model_id}", { params: { path: { model_id: id } }, body })),
    onSuccess: (model) => accept(cache, model),
  });
}

/** Copy a model for a stand-in to fly; nothing flown with the copy touches the model. */
export function useRehearse(id: string) {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: () =>
      unwrap(
        client.POST("/api/v1/models/{model_id}/rehearsals", {
          params: { path: { model_id: id } },
          body: { id: newId() },
        }),
      ),
    onSuccess: (model) => accept(cache, model),
  });
}

/** Start a sister: this model's airframe and lessons as the next one's starting point. */
export function useMakeSister(id: string) {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: (name: string) =>
      unwrap(
        client.POST("/api/v1/models/{model_id}/sisters", {
          params: { path: { model_id: id } },
          body: { id: newId(), name },
        }),
      ),
    onSuccess: (model) => accept(cache, model),
  });
}

/** What was entered was read on the model itself, on a plan of a scale, or a picture; `how` null where it was only drawn. */
export interface ReadOn {
  how: "model" | "plan" | "picture" | null;
  scale: number;
}

const BY_RULER: ReadOn = { how: "model", scale: 1 };

interface Edit {
  change: (setup: Configuration) => Configuration;
  words: string;
  read?: ReadOn | undefined;
}

/** Keep one reading of a measure: alone, or with those there are; the other half's apart. */
export function useTakeMeasure(id: string) {
  const cache = useQueryClient();
  return useMutation({
    scope: { id: `setup-${id}` },
    mutationFn: async (reading: { key: string; value: number; left: boolean; again: boolean; read: ReadOn }) => {
      const { read, ...rest } = reading;
      const newest = await newestOf(cache, id);
      if (!newest) throw new Error("a measure is taken before its model is there");
      const body = { ...rest, base_revision: newest.revision, how: read.how ?? "model", scale: read.scale };
      return unwrap(client.POST("/api/v1/models/{model_id}/measures", { params: { path: { model_id: id } }, body }));
    },
    onSuccess: (model) => accept(cache, model),
  });
}

/**
 * Save changes of the setup, one after the other, each applied to the newest setup: two quick entries in different fields
 * both arrive, and only a change made elsewhere is a conflict.
 */
export function useEditSetup(id: string) {
  const cache = useQueryClient();
  return useMutation({
    scope: { id: `setup-${id}` },
    mutationFn: async ({ change, words, read }: Edit) => {
      const newest = await newestOf(cache, id);
      if (!newest) throw new Error("a setup is edited before it is there");
      const body = { base_revision: newest.revision, setup: change(newest.setup), words, ...(read ?? BY_RULER) };
      return unwrap(client.PUT("/api/v1/models/{model_id}/setup", { params: { path: { model_id: id } }, body }));
    },
    onSuccess: (model) => accept(cache, model),
  });
}

/** What a reading of the balance means: held at a span station, or on scales. Nothing is stored. */
export function useWeighing() {
  return useMutation({
    mutationFn: (body: WeighingRequest) => unwrap(client.POST("/api/v1/compute/weighing", { body })),
  });
}

/** The ways to a balance point: moves of what is aboard before ballast. Nothing is stored. */
export function useArrange(id: string) {
  return useMutation({
    mutationFn: (body: { target_x_m: number | null; level: boolean }) =>
      unwrap(
        client.POST("/api/v1/models/{model_id}/arrangements", {
          params: { path: { model_id: id } },
          body: { ...body, tolerance_m: 0.0015 },
        }),
      ),
  });
}

/** Replace the items by those of a table; a bad one is refused by row and column, and nothing is changed. */
export function useItemTable(id: string) {
  const cache = useQueryClient();
  return useMutation({
    scope: { id: `setup-${id}` },
    mutationFn: async (file: File) => {
      const body = await file.arrayBuffer();
      return unwrap(
        client.PUT("/api/v1/models/{model_id}/items.csv", {
          params: { path: { model_id: id } },
          body: body as unknown as string,
          bodySerializer: (b) => b as unknown as string,
          headers: { "Content-Type": "text/csv", ...(await ifMatch(cache, id)) },
        }),
      );
    },
    onSuccess: (model) => accept(cache, model),
  });
}

export function useMoveDatum(id: string) {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: (body: { base_revision: number; dx_m: number; words: string }) =>
      unwrap(client.POST("/api/v1/models/{model_id}/datum", { params: { path: { model_id: id } }, body })),
    onSuccess: (model) => accept(cache, model),
  });
}

export function useUndo(id: string) {
  const cache = useQueryClient();
  return useMutation({
    scope: { id: `setup-${id}` },
    mutationFn: async (way: "undo" | "redo") => {
      const params = { path: { model_id: id } };
      // The version says which edit is meant: a retried undo undoes one edit, not two.
      const named = { params, headers: await ifMatch(cache, id) };
      return way === "undo"
        ? unwrap(client.POST("/api/v1/models/{model_id}/undo", named))
        : unwrap(client.POST("/api/v1/models/{model_id}/redo", named));
    },
    onSuccess: (model) => accept(cache, model),
  });
}

/** Put a model away, take it back, or delete it for good; the shelf is fetched anew. */
export function useShelfChange() {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: ({ id, change, name }: { id: string; change: "put away" | "take back" | "delete"; name?: string }) => {
      const path = { model_id: id };
      if (change === "put away") return done(client.POST("/api/v1/models/{model_id}/put-away", { params: { path } }));
      if (change === "take back") return done(client.POST("/api/v1/models/{model_id}/take-back", { params: { path } }));
      return done(client.DELETE("/api/v1/models/{model_id}", { params: { path, query: { name: name ?? "" } } }));
    },
    onSuccess: (_, { id, change }) => {
      if (change === "delete") cache.removeQueries({ queryKey: keys.model(id) });
      return cache.invalidateQueries({ queryKey: keys.shelf });
    },
  });
}

export function useImport() {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: async (file: File) => {
      const bytes = await file.arrayBuffer();
      return unwrap(
        client.POST("/api/v1/archives", {
          body: bytes as unknown as string,
          bodySerializer: (b) => b as unknown as string,
          headers: { "Content-Type": "application/zip" },
        }),
      );
    },
    onSuccess: (model) => accept(cache, model),
  });
}
