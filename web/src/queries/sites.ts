/** Sites: what is typed of them, and where a model is flown. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { client, type Schemas, unwrap } from "../api/client";
import { keys } from "./models";

export type SiteTyped = Schemas["SiteTyped"];

export const SITES = { queryKey: ["sites"] as const, queryFn: () => unwrap(client.GET("/api/v1/sites")) };

export function useSites() {
  return useQuery({ ...SITES, retry: false });
}

export function useKeepSite() {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: ({ id, site }: { id: string; site: SiteTyped }) =>
      unwrap(client.PUT("/api/v1/sites/{site_id}", { params: { path: { site_id: id } }, body: site })),
    onSuccess: () => {
      void cache.invalidateQueries({ queryKey: SITES.queryKey });
      void cache.invalidateQueries({ predicate: (q) => q.queryKey[0] === "model" && q.queryKey[2] === "plan" });
    },
  });
}

/** Say where a model is flown next: light, height limit and height above the sea count from there. */
export function useFlyAt(modelId: string) {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: (site_id: string | null) =>
      unwrap(
        client.PUT("/api/v1/models/{model_id}/site", { params: { path: { model_id: modelId } }, body: { site_id } }),
      ),
    onSuccess: (plan) => {
      cache.setQueryData(keys.plan(modelId), plan);
      void cache.invalidateQueries({ queryKey: keys.model(modelId) });
    },
  });
}
