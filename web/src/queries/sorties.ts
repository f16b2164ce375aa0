import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import {
  type CardRecord,
  client,
  type ModelDetail,
  ProblemError,
  plain,
  type Rework,
  type SortieDetail,
  unwrap,
} from "../api/client";
import { newId } from "../domain/identity";
import { onArrival, sendRecord } from "../offline/outbox";
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

export function usePlan(id: string, wishes: Wishes = NO_WISHES) {
  const query = { pin: [...wishes.pin], drop: [...wishes.drop] };
  const plain = query.pin.length + query.drop.length === 0;
  return useQuery({
    queryKey: plain ? keys.plan(id) : [...keys.plan(id), query],
    queryFn: () => unwrap(client.GET("/api/v1/models/{model_id}/plan", { params: { path: { model_id: id }, query } })),
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

export function usePlanSortie(id: string) {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: ({
      flown = "",
      ...body
    }: {
      card_ids: string[];
      alone: boolean;
      reasons: Record<string, string>;
      /** It has been flown already, and why without a plan. */
      flown?: string;
    }) =>
      unwrap(
        client.POST("/api/v1/models/{model_id}/sorties", {
          params: { path: { model_id: id } },
          body: { id: newId(), ...body, flown },
        }),
      ),
    onSuccess: (model) => accept(cache, model),
  });
}

/** Whether a sortie is planned or flying. */
export function isOpen(sortie: { status: string }): boolean {
  return sortie.status === "planned" || sortie.status === "flying";
}

/** The card catalogue. */
export function useCards() {
  return useQuery({
    queryKey: ["cards"],
    queryFn: () => unwrap(client.GET("/api/v1/cards")),
    staleTime: Number.POSITIVE_INFINITY,
  });
}

export function useSortie(id: string) {
  return useQuery({
    queryKey: keys.sortie(id),
    queryFn: () => unwrap(client.GET("/api/v1/sorties/{sortie_id}", { params: { path: { sortie_id: id } } })),
    enabled: id !== "",
  });
}

/** Log a card: kept on this device first, then sent; a lost connection or a server that is away loses nothing. */
export function useLogCard(sortieId: string) {
  const cache = useQueryClient();
  return useMutation({
    networkMode: "always",
    mutationFn: ({ record, replaces }: { record: CardRecord; replaces?: string }) => {
      const seen = cache.getQueryData<SortieDetail>(keys.sortie(sortieId))?.log_order ?? null;
      const knowing = replaces === undefined ? { seen } : { seen, replaces };
      return sendRecord({ kind: "sortie", sortieId }, record, knowing);
    },
  });
}

/** Entries that arrive, now or after hours: what they change is shown. Used once, at the top of the page. */
export function useArrivals(): void {
  const cache = useQueryClient();
  useEffect(
    () =>
      onArrival((entry, answer) => {
        if (entry.target.kind === "ground") return accept(cache, answer as ModelDetail);
        const sortie = answer as SortieDetail;
        cache.setQueryData(keys.sortie(sortie.id), sortie);
        void cache.invalidateQueries({ queryKey: keys.model(sortie.model_id) });
        void cache.invalidateQueries({ queryKey: keys.debrief(sortie.id) });
      }),
    [cache],
  );
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
    | "/api/v1/sorties/{sortie_id}/land"
    | "/api/v1/sorties/{sortie_id}/stand-in"
    | "/api/v1/sorties/{sortie_id}/call-off",
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

export function useLand(sortieId: string, modelId: string) {
  return useSortieStep(sortieId, modelId, "/api/v1/sorties/{sortie_id}/land");
}

/** Take back a planned sortie of which nothing is logged. */
export function useCallOff(sortieId: string, modelId: string) {
  return useSortieStep(sortieId, modelId, "/api/v1/sorties/{sortie_id}/call-off");
}

export function useStandIn(sortieId: string, modelId: string) {
  return useSortieStep(sortieId, modelId, "/api/v1/sorties/{sortie_id}/stand-in");
}

export function useDebrief(sortieId: string) {
  return useQuery({
    queryKey: keys.debrief(sortieId),
    queryFn: () =>
      unwrap(client.GET("/api/v1/sorties/{sortie_id}/debrief", { params: { path: { sortie_id: sortieId } } })),
    enabled: sortieId !== "",
  });
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

export function useRework(id: string, choices: ReworkChoices) {
  return useQuery<Rework>({
    queryKey: [...keys.rework(id), choices],
    queryFn: ({ signal }) => {
      const { battery_m, ...switches } = choices;
      const query = battery_m === null ? switches : { ...switches, battery_m };
      return unwrap(
        client.GET("/api/v1/models/{model_id}/rework", { params: { path: { model_id: id }, query }, signal }),
      );
    },
    placeholderData: (previous) => previous,
    retry: false,
  });
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

/** What has to be so before a model is handed over, and whether it was. */
export function useHandOver(modelId: string) {
  return useQuery({
    queryKey: [...keys.model(modelId), "hand-over"],
    queryFn: () =>
      unwrap(client.GET("/api/v1/models/{model_id}/hand-over", { params: { path: { model_id: modelId } } })),
    retry: false,
  });
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

export function useBoard(id: string) {
  return useQuery({
    queryKey: keys.board(id),
    queryFn: () => unwrap(client.GET("/api/v1/models/{model_id}/board", { params: { path: { model_id: id } } })),
  });
}
