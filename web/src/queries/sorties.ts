import { type QueryClient, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect } from "react";
import {
  type CardRecord,
  client,
  type ModelDetail,
  type Plan,
  ProblemError,
  plain,
  type Rework,
  type Said,
  type SortieDetail,
  unwrap,
} from "../api/client";
import { newId } from "../domain/identity";
import {
  type BeginRequest,
  beginSortie,
  type Entry,
  keepRecord,
  landSortie,
  onArrival,
  sendRecord,
} from "../offline/outbox";
import { beginOf, begunHere, planWith } from "../offline/overlay";
import { useOnDevice } from "../offline/use-outbox";
import { accept, keys } from "./models";

export interface WindEntry {
  speed_mps: number;
  gust_mps: number;
  from_rad: number;
  strip_heading_rad: number;
}

/** Cards the pilot wants in the next sortie, and cards he does not want, whatever is proposed. */
export interface Wishes {
  pin: readonly string[];
  drop: readonly string[];
}

export const NO_WISHES: Wishes = { pin: [], drop: [] };

export const planOf = (id: string, query: { pin: string[]; drop: string[] } = { pin: [], drop: [] }) => ({
  queryKey: keys.plan(id) as readonly unknown[],
  queryFn: () => unwrap(client.GET("/api/v1/models/{model_id}/plan", { params: { path: { model_id: id }, query } })),
});

export function usePlan(id: string, wishes: Wishes = NO_WISHES) {
  const query = { pin: [...wishes.pin], drop: [...wishes.drop] };
  const plain = query.pin.length + query.drop.length === 0;
  const here = useOnDevice();
  return useQuery({
    ...planOf(id, query),
    queryKey: plain ? keys.plan(id) : [...keys.plan(id), query],
    select: (plan: Plan) => planWith(plan, here, id),
    placeholderData: (previous) => previous,
    retry: false,
  });
}

/** What an order of cards takes in the air and what it costs against the proposal. */
export function usePlanCost(id: string, cards: readonly string[], changed: boolean) {
  return useQuery({
    queryKey: [...keys.plan(id), "cost", cards],
    queryFn: () =>
      unwrap(
        client.GET("/api/v1/models/{model_id}/plan/cost", {
          params: { path: { model_id: id }, query: { cards: [...cards] } },
        }),
      ),
    enabled: changed,
    placeholderData: (previous) => previous,
    retry: false,
  });
}

/** Keep the wind as it is read at the field: its verdict stands on every screen from then on. */
export function useReadWind(id: string) {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: (wind: WindEntry) =>
      unwrap(client.PUT("/api/v1/models/{model_id}/wind", { params: { path: { model_id: id } }, body: { wind } })),
    onSuccess: (plan) => {
      cache.setQueryData(keys.plan(id), plan);
      void cache.invalidateQueries({ queryKey: keys.model(id) });
    },
  });
}

/** Log a bench or ground card: kept on this device first, then sent. Refused ones stay on the device, to be mended. */
export function useLogGroundCard(id: string) {
  const cache = useQueryClient();
  return useMutation({
    networkMode: "always",
    mutationFn: async (record: CardRecord) => {
      const seen = cache.getQueryData<ModelDetail>(keys.model(id))?.log_order ?? null;
      const fate = await sendRecord({ kind: "ground", modelId: id }, record, { seen });
      if (fate.kind === "refused") throw new ProblemError(plain("refused", keptWords(record.card_id, fate.title)));
      return fate;
    },
  });
}

/** What an entry that was not accepted says where it was made. */
export function keptWords(cardId: string, title: string): string {
  return `${cardId} was not accepted: ${title} It is kept on this device, to be mended.`;
}

/** The sortie that would begin now: kept on this device, so that it can begin where no program answers. */
export const nextSortie = (id: string) => ({
  queryKey: keys.next(id),
  queryFn: () => unwrap(client.GET("/api/v1/models/{model_id}/next-sortie", { params: { path: { model_id: id } } })),
});

const UNPREPARED =
  "The program does not answer, and this model was not prepared on this device: nothing can begin here.";

/** Begin a sortie: where the program does not answer, on this device. What is refused is not begun. */
export function useBeginSortie(id: string) {
  const cache = useQueryClient();
  return useMutation({
    networkMode: "always",
    mutationFn: async ({
      stops,
      ...request
    }: Omit<BeginRequest, "flown"> & { flown?: string; stops: readonly Said[] }) => {
      const proposed = await cache.ensureQueryData({ ...nextSortie(id), retry: false }).catch(() => null);
      if (!proposed) throw new ProblemError(plain("unprepared", UNPREPARED));
      const against = stops.map((s) => ({ code: s.code, words: s.words, reason: request.reasons[s.code] ?? "" }));
      const sortie = beginOf(proposed, newId(), { ...request, against });
      const fate = await beginSortie(id, sortie, { flown: "", ...request });
      if (fate.kind === "refused") throw new ProblemError(fate.problem ?? plain("refused", fate.title));
      return fate;
    },
  });
}

/** Whether a sortie is planned or flying. */
export function isOpen(sortie: { status: string }): boolean {
  return sortie.status === "planned" || sortie.status === "flying";
}

export const CARDS = { queryKey: ["cards"] as const, queryFn: () => unwrap(client.GET("/api/v1/cards")) };

/** The card catalogue. */
export function useCards(enabled = true) {
  return useQuery({ ...CARDS, enabled, staleTime: Number.POSITIVE_INFINITY });
}

export const sortieWith = (id: string) => ({
  queryKey: keys.sortie(id),
  queryFn: () => unwrap(client.GET("/api/v1/sorties/{sortie_id}", { params: { path: { sortie_id: id } } })),
});

/** A sortie; one that was begun on this device and has not arrived is as this device flies it. */
const LOOK_AGAIN_MS = 5_000;

/** `watched`: other devices log it too, what they say is looked for. */
export function useSortie(id: string, watched = false) {
  const here = begunHere(useOnDevice(), id);
  return useQuery({
    ...sortieWith(id),
    enabled: id !== "" && here === null,
    refetchInterval: watched ? LOOK_AGAIN_MS : false,
    ...(here ? { initialData: here } : {}),
  });
}

interface Logged {
  record: CardRecord;
  /** The entry of the log that this one corrects. */
  replaces?: string;
}

/** Keep a card on this device, to be sent behind it; a lost connection or a server that is away loses nothing. */
export function useKeepCard(sortieId: string) {
  const cache = useQueryClient();
  return useCallback(
    ({ record, ...replacing }: Logged) => {
      const seen = cache.getQueryData<SortieDetail>(keys.sortie(sortieId))?.log_order ?? null;
      return keepRecord({ kind: "sortie", sortieId }, record, { seen, ...replacing });
    },
    [cache, sortieId],
  );
}

/** Log a card, and wait until it is known what has become of it. */
export function useLogCard(sortieId: string) {
  const keepCard = useKeepCard(sortieId);
  return useMutation({ networkMode: "always", mutationFn: async (logged: Logged) => (await keepCard(logged)).fate });
}

/** Entries that arrive, now or after hours: what they change is shown. Used once, at the top of the page. */
export function useArrivals(): void {
  const cache = useQueryClient();
  useEffect(
    () =>
      onArrival((entry, answer) => {
        if (!("model_id" in answer)) {
          // What this device flies stands until it has been fetched anew.
          if (entry.what === "begin") seed(cache, entry);
          return accept(cache, answer);
        }
        cache.setQueryData(keys.sortie(answer.id), answer);
        void cache.invalidateQueries({ queryKey: keys.debrief(answer.id) });
        void cache.invalidateQueries({ queryKey: keys.model(answer.model_id) });
      }),
    [cache],
  );
}

function seed(cache: QueryClient, entry: Extract<Entry, { what: "begin" }>): void {
  // What the program began in the pilot's presence is as the program says; a sortie that he has flown meanwhile stands as he flew it.
  if (entry.gone) cache.setQueryData(keys.sortie(entry.id), (known: SortieDetail | undefined) => known ?? entry.sortie);
  void cache.invalidateQueries({ queryKey: keys.sortie(entry.id) });
}

/** Let an entry count where two devices said different things. */
export function useChooseRecord() {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: (recordId: string) =>
      unwrap(
        client.POST("/api/v1/records/{record_id}/choose", {
          params: { path: { record_id: recordId } },
          body: { by: "" },
        }),
      ),
    onSuccess: (model) => {
      accept(cache, model);
      void cache.invalidateQueries({ queryKey: ["sortie"] });
      void cache.invalidateQueries({ queryKey: ["debrief"] });
    },
  });
}

function useSortieStep(
  sortieId: string,
  modelId: string,
  path:
    | "/api/v1/sorties/{sortie_id}/stand-in"
    | "/api/v1/sorties/{sortie_id}/call-off"
    | "/api/v1/sorties/{sortie_id}/reopen",
) {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: () => unwrap(client.POST(path, { params: { path: { sortie_id: sortieId } } })),
    // Waited for, so that the next page does not open on what was true before.
    onSuccess: (sortie) => {
      cache.setQueryData(keys.sortie(sortieId), sortie);
      return cache.invalidateQueries({ queryKey: keys.model(modelId) });
    },
  });
}

/** Land a sortie: kept on this device first, behind everything that was logged of it. */
export function useLand(sortieId: string, modelId: string) {
  const cache = useQueryClient();
  return useMutation({
    networkMode: "always",
    mutationFn: async () => {
      const fate = await landSortie(modelId, sortieId);
      if (fate.kind === "refused") throw new ProblemError(fate.problem ?? plain("refused", fate.title));
      return fate;
    },
    // Waited for, so that the next page does not open on what was true before.
    onSuccess: (fate) =>
      fate.kind === "sent" ? cache.invalidateQueries({ queryKey: keys.model(modelId) }) : Promise.resolve(),
  });
}

/** Open a sortie again that had not landed, while nothing rests on its landing. */
export function useReopen(sortieId: string, modelId: string) {
  return useSortieStep(sortieId, modelId, "/api/v1/sorties/{sortie_id}/reopen");
}

/** Take back a planned sortie of which nothing is logged. */
export function useCallOff(sortieId: string, modelId: string) {
  return useSortieStep(sortieId, modelId, "/api/v1/sorties/{sortie_id}/call-off");
}

export function useStandIn(sortieId: string, modelId: string) {
  return useSortieStep(sortieId, modelId, "/api/v1/sorties/{sortie_id}/stand-in");
}

export const debriefOf = (id: string) => ({
  queryKey: keys.debrief(id),
  queryFn: () => unwrap(client.GET("/api/v1/sorties/{sortie_id}/debrief", { params: { path: { sortie_id: id } } })),
});

export function useDebrief(sortieId: string) {
  return useQuery({ ...debriefOf(sortieId), enabled: sortieId !== "" });
}

export interface ReworkChoices {
  battery_m: number | null;
  use_ballast: boolean;
  use_tip_ballast: boolean;
  use_thrust_line: boolean;
  use_level: boolean;
  use_rudder_rate: boolean;
  leave: ("pitch" | "roll" | "yaw")[];
}

/** Other ways to what is composed; asked for only when somebody looks. */
export function useWays(id: string, choices: ReworkChoices, enabled: boolean) {
  return useQuery({
    queryKey: [...keys.rework(id), "ways", choices],
    queryFn: ({ signal }) => {
      const { battery_m, ...switches } = choices;
      const query = battery_m === null ? switches : { ...switches, battery_m };
      return unwrap(
        client.GET("/api/v1/models/{model_id}/rework/ways", { params: { path: { model_id: id }, query }, signal }),
      );
    },
    enabled,
    retry: false,
  });
}

/** As it is composed, with no choice made. */
export const COMPUTED: ReworkChoices = {
  battery_m: null,
  use_ballast: true,
  use_tip_ballast: true,
  use_thrust_line: true,
  use_level: true,
  use_rudder_rate: true,
  leave: [],
};

export const reworkOf = (id: string, choices: ReworkChoices) => ({
  queryKey: [...keys.rework(id), choices],
  queryFn: ({ signal }: { signal: AbortSignal }): Promise<Rework> => {
    const { battery_m, ...switches } = choices;
    const query = battery_m === null ? switches : { ...switches, battery_m };
    return unwrap(
      client.GET("/api/v1/models/{model_id}/rework", { params: { path: { model_id: id }, query }, signal }),
    );
  },
});

export function useRework(id: string, choices: ReworkChoices) {
  return useQuery<Rework>({ ...reworkOf(id, choices), placeholderData: (previous) => previous, retry: false });
}

export function useAcceptRework(id: string) {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: (choices: ReworkChoices) =>
      unwrap(
        client.POST("/api/v1/models/{model_id}/rework", {
          params: { path: { model_id: id } },
          body: { id: newId(), choices },
        }),
      ),
    onSuccess: (model) => accept(cache, model),
  });
}

export function useProve(orderId: string, modelId: string) {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: (body: {
      index: number;
      reading?: string;
      number?: number;
      differently?: boolean;
      taken_back?: boolean;
    }) =>
      unwrap(
        client.POST("/api/v1/work-orders/{order_id}/proofs", {
          params: { path: { order_id: orderId } },
          body: { reading: "", differently: false, taken_back: false, ...body },
        }),
      ),
    onSuccess: () => {
      void cache.invalidateQueries({ queryKey: keys.model(modelId) });
      void cache.invalidateQueries({ queryKey: keys.rework(modelId) });
    },
  });
}

export function useTakeBackOrder(orderId: string, modelId: string) {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: () =>
      unwrap(client.DELETE("/api/v1/work-orders/{order_id}", { params: { path: { order_id: orderId } } })),
    onSuccess: (model) => {
      cache.setQueryData(keys.model(modelId), model);
      void cache.invalidateQueries({ queryKey: keys.rework(modelId) });
      void cache.invalidateQueries({ queryKey: keys.plan(modelId) });
    },
  });
}

export const handOverOf = (id: string) => ({
  queryKey: [...keys.model(id), "hand-over"],
  queryFn: () => unwrap(client.GET("/api/v1/models/{model_id}/hand-over", { params: { path: { model_id: id } } })),
});

/** What has to be so before a model is handed over, and whether it was. */
export function useHandOver(modelId: string) {
  return useQuery({ ...handOverOf(modelId), retry: false });
}

export function useSignOff(modelId: string) {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: (body: { signed_by: string; remark: string }) =>
      unwrap(
        client.POST("/api/v1/models/{model_id}/sign-offs", {
          params: { path: { model_id: modelId } },
          body: { id: newId(), ...body },
        }),
      ),
    onSuccess: (model) => accept(cache, model),
  });
}

export function useTakeBackSignOff(modelId: string) {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: (id: string) =>
      unwrap(client.DELETE("/api/v1/sign-offs/{sign_off_id}", { params: { path: { sign_off_id: id } } })),
    onSuccess: (model) => accept(cache, { ...model, id: modelId }),
  });
}

export const emergenciesOf = (id: string) => ({
  queryKey: keys.emergencies(id),
  queryFn: () => unwrap(client.GET("/api/v1/models/{model_id}/emergencies", { params: { path: { model_id: id } } })),
});

export function useEmergencies(id: string) {
  return useQuery({ ...emergenciesOf(id), retry: false });
}

export const boardOf = (id: string) => ({
  queryKey: keys.board(id),
  queryFn: () => unwrap(client.GET("/api/v1/models/{model_id}/board", { params: { path: { model_id: id } } })),
});

export function useBoard(id: string) {
  return useQuery(boardOf(id));
}
