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
