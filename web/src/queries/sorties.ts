import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type CardRecord, client, type Rework, unwrap } from "../api/client";
import { newId } from "../domain/identity";
import { sendRecord } from "../offline/outbox";
import { accept, keys } from "./models";

export interface WindEntry {
  speed_mps: number;
  gust_mps: number;
  from_rad: number;
  strip_heading_rad: number;
}

export function usePlan(id: string, wind: WindEntry | null) {
  return useQuery({
    queryKey: [...keys.plan(id), wind],
    queryFn: () =>
      unwrap(
        client.GET("/api/v1/models/{model_id}/plan", {
          params: {
            path: { model_id: id },
            query: wind
              ? {
                  wind_mps: wind.speed_mps,
                  gust_mps: wind.gust_mps,
                  from_rad: wind.from_rad,
                  strip_rad: wind.strip_heading_rad,
                }
              : {},
          },
        }),
      ),
    placeholderData: (previous) => previous,
    retry: false,
  });
}

export function useLogGroundCard(id: string) {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: (record: CardRecord) =>
      unwrap(
        client.POST("/api/v1/models/{model_id}/ground-cards", {
          params: { path: { model_id: id } },
          body: { id: newId(), record },
        }),
      ),
    onSuccess: (model) => accept(cache, model),
  });
}

export function usePlanSortie(id: string) {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: (body: { card_ids: string[]; wind: WindEntry | null; alone: boolean }) =>
      unwrap(
        client.POST("/api/v1/models/{model_id}/sorties", {
          params: { path: { model_id: id } },
          body: { id: newId(), ...body },
        }),
      ),
    onSuccess: (model) => accept(cache, model),
  });
}

export function useSortie(id: string) {
  return useQuery({
    queryKey: keys.sortie(id),
    queryFn: () => unwrap(client.GET("/api/v1/sorties/{sortie_id}", { params: { path: { sortie_id: id } } })),
    enabled: id !== "",
  });
}

/** Log a card: kept on this device first, then sent; a lost connection loses nothing. */
export function useLogCard(sortieId: string, modelId: string) {
  const cache = useQueryClient();
  return useMutation({
    networkMode: "always",
    mutationFn: (record: CardRecord) => sendRecord(sortieId, record),
    onSuccess: () => {
      void cache.invalidateQueries({ queryKey: keys.sortie(sortieId) });
      void cache.invalidateQueries({ queryKey: keys.model(modelId) });
    },
  });
}

function useSortieStep(
  sortieId: string,
  modelId: string,
  path: "/api/v1/sorties/{sortie_id}/land" | "/api/v1/sorties/{sortie_id}/stand-in",
) {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: () => unwrap(client.POST(path, { params: { path: { sortie_id: sortieId } } })),
    onSuccess: (sortie) => {
      cache.setQueryData(keys.sortie(sortieId), sortie);
      void cache.invalidateQueries({ queryKey: keys.model(modelId) });
    },
  });
}

export function useLand(sortieId: string, modelId: string) {
  return useSortieStep(sortieId, modelId, "/api/v1/sorties/{sortie_id}/land");
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
    mutationFn: (body: { index: number; reading: string }) =>
      unwrap(client.POST("/api/v1/work-orders/{order_id}/proofs", { params: { path: { order_id: orderId } }, body })),
    onSuccess: () => {
      void cache.invalidateQueries({ queryKey: keys.model(modelId) });
      void cache.invalidateQueries({ queryKey: keys.rework(modelId) });
    },
  });
}

export function useBoard(id: string) {
  return useQuery({
    queryKey: keys.board(id),
    queryFn: () => unwrap(client.GET("/api/v1/models/{model_id}/board", { params: { path: { model_id: id } } })),
  });
}
