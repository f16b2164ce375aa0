import { useQuery } from "@tanstack/react-query";
import { client, type Schemas, unwrap } from "../api/client";
import { keys } from "./models";

export type DiaryLine = Schemas["DiaryLine"];

/** Everything that was logged of a model, the newest first. */
export function useDiary(id: string) {
  return useQuery({
    queryKey: [...keys.model(id), "diary"],
    queryFn: () => unwrap(client.GET("/api/v1/models/{model_id}/diary", { params: { path: { model_id: id } } })),
  });
}

/** What each landed sortie was flown with and in, and what it showed; oldest first. */
export function useRetold(id: string) {
  return useQuery({
    queryKey: [...keys.model(id), "retold"],
    queryFn: () => unwrap(client.GET("/api/v1/models/{model_id}/retold", { params: { path: { model_id: id } } })),
  });
}

/** Two landed sorties side by side. */
export function useComparison(one: string, other: string) {
  return useQuery({
    queryKey: ["comparison", one, other],
    enabled: one !== "" && other !== "" && one !== other,
    queryFn: () =>
      unwrap(
        client.GET("/api/v1/sorties/{sortie_id}/beside/{other_id}", {
          params: { path: { sortie_id: one, other_id: other } },
        }),
      ),
  });
}
