import { keepPreviousData, type QueryClient, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type Configuration, client, type ModelDetail, unwrap } from "../api/client";
import { newId } from "../domain/identity";

export const keys = {
  shelf: ["models"] as const,
  model: (id: string) => ["model", id] as const,
  bench: (id: string) => ["model", id, "bench"] as const,
  plan: (id: string) => ["model", id, "plan"] as const,
  rework: (id: string) => ["model", id, "rework"] as const,
  board: (id: string) => ["model", id, "board"] as const,
  sortie: (id: string) => ["sortie", id] as const,
  debrief: (id: string) => ["debrief", id] as const,
};

/** A changed model: show it at once, fetch all that depends on it anew. */
export function accept(cache: QueryClient, model: ModelDetail): void {
  cache.setQueryData(keys.model(model.id), model);
  void cache.invalidateQueries({ queryKey: keys.shelf });
  for (const part of ["bench", "plan", "rework", "board"])
    void cache.invalidateQueries({ queryKey: ["model", model.id, part] });
}

export function useShelf() {
  return useQuery({ queryKey: keys.shelf, queryFn: () => unwrap(client.GET("/api/v1/models")) });
}

export function useSilhouettes() {
  return useQuery({
    queryKey: ["silhouettes"],
    queryFn: () => unwrap(client.GET("/api/v1/silhouettes")),
    staleTime: Number.POSITIVE_INFINITY,
  });
}

export function useDirections() {
  return useQuery({
    queryKey: ["directions"],
    queryFn: () => unwrap(client.GET("/api/v1/directions")),
    staleTime: Number.POSITIVE_INFINITY,
  });
}

export function useModel(id: string) {
  return useQuery({
    queryKey: keys.model(id),
    queryFn: () => unwrap(client.GET("/api/v1/models/{model_id}", { params: { path: { model_id: id } } })),
    enabled: id !== "",
  });
}

/** The bench's numbers: of the saved setup, or of a draft while something is being moved (the latest answer wins). */
export function useBench(id: string, draft: Configuration | null) {
  return useQuery({
    queryKey: [...keys.bench(id), draft],
    queryFn: ({ signal }) => {
      const params = { path: { model_id: id } };
      return draft
        ? unwrap(client.POST("/api/v1/models/{model_id}/what-if", { params, body: draft, signal }))
        : unwrap(client.GET("/api/v1/models/{model_id}/bench", { params, signal }));
    },
    placeholderData: keepPreviousData,
    gcTime: draft ? 2000 : 60_000,
    retry: false,
  });
}

export function useCreateModel() {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: (body: { name: string; silhouette: string; span_m: number }) =>
      unwrap(client.POST("/api/v1/models", { body: { id: newId(), ...body } })),
    onSuccess: (model) => accept(cache, model),
  });
}

export function useSaveSetup(id: string) {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: (body: { base_revision: number; setup: Configuration; words: string }) =>
      unwrap(client.PUT("/api/v1/models/{model_id}/setup", { params: { path: { model_id: id } }, body })),
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
    mutationFn: (way: "undo" | "redo") => {
      const params = { path: { model_id: id } };
      return way === "undo"
        ? unwrap(client.POST("/api/v1/models/{model_id}/undo", { params }))
        : unwrap(client.POST("/api/v1/models/{model_id}/redo", { params }));
    },
    onSuccess: (model) => accept(cache, model),
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
