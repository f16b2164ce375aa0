/** Packs: their shelf, which one is to fly, what flights took from them. */
import { type QueryClient, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { client, type Schemas, unwrap } from "../api/client";
import { keys } from "./models";

export type PackView = Schemas["PackView"];
export type PackLabel = Schemas["PackLabel"];
export type TypedFlight = Schemas["PackFlight"];
export type Taken = Schemas["Taken"];

export const PACKS = { queryKey: ["packs"] as const, queryFn: () => unwrap(client.GET("/api/v1/packs")) };

export function usePacks() {
  return useQuery({ ...PACKS, retry: false });
}

export function useCells() {
  return useQuery({
    queryKey: ["cells"],
    queryFn: () => unwrap(client.GET("/api/v1/cells")),
    staleTime: Number.POSITIVE_INFINITY,
  });
}

/** A pack as it is now; the minutes of every model may count from it. */
function taken(cache: QueryClient, view: PackView): void {
  cache.setQueryData<PackView[]>(PACKS.queryKey, (all) => {
    const others = (all ?? []).filter((p) => p.id !== view.id);
    return [...others, view].sort((a, b) => Number(a.put_away) - Number(b.put_away) || a.name.localeCompare(b.name));
  });
  void cache.invalidateQueries({ predicate: (q) => q.queryKey[0] === "model" && q.queryKey[2] !== undefined });
}

export function useKeepPack() {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: ({ id, label }: { id: string; label: PackLabel }) =>
      unwrap(client.PUT("/api/v1/packs/{pack_id}", { params: { path: { pack_id: id } }, body: label })),
    onSuccess: (view) => taken(cache, view),
  });
}

export function useKeepFlight(packId: string) {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: ({ id, flight }: { id: string; flight: TypedFlight }) =>
      unwrap(
        client.PUT("/api/v1/packs/{pack_id}/flights/{flight_id}", {
          params: { path: { pack_id: packId, flight_id: id } },
          body: flight,
        }),
      ),
    onSuccess: (view) => taken(cache, view),
  });
}

export function useRemoveFlight(packId: string) {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: (id: string) =>
      unwrap(
        client.DELETE("/api/v1/packs/{pack_id}/flights/{flight_id}", {
          params: { path: { pack_id: packId, flight_id: id } },
        }),
      ),
    onSuccess: (view) => taken(cache, view),
  });
}

export function usePutBack() {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: ({ sortieId, charge_c }: { sortieId: string; charge_c: number | null }) =>
      unwrap(
        client.PUT("/api/v1/sorties/{sortie_id}/put-back", {
          params: { path: { sortie_id: sortieId } },
          body: { charge_c },
        }),
      ),
    onSuccess: (view) => taken(cache, view),
  });
}

/** Name the pack that is to fly next: the minutes of the sortie count from it on every screen. */
export function useFitPack(modelId: string) {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas["FitPack"]) =>
      unwrap(client.PUT("/api/v1/models/{model_id}/pack", { params: { path: { model_id: modelId } }, body })),
    onSuccess: (plan) => {
      cache.setQueryData(keys.plan(modelId), plan);
      void cache.invalidateQueries({ queryKey: keys.model(modelId) });
    },
  });
}
