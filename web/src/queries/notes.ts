import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { client, type Schemas, unwrap } from "../api/client";
import { keys } from "./models";

export type NoteLine = Schemas["NoteLine"];

/** What was noticed on the flights of a model, oldest first. */
export const notesOf = (id: string) => ({
  queryKey: [...keys.model(id), "notes"] as const,
  queryFn: () => unwrap(client.GET("/api/v1/models/{model_id}/notes", { params: { path: { model_id: id } } })),
});

export function useNotes(id: string) {
  return useQuery(notesOf(id));
}

/** Say what a note was; with no words it is open again. */
export function useGoThrough(id: string) {
  const accept = useAccepted(id);
  return useMutation({
    mutationFn: ({ note, found }: { note: string; found: string }) =>
      unwrap(client.POST("/api/v1/notes/{note_id}/found", { params: { path: { note_id: note } }, body: { found } })),
    onSuccess: accept,
  });
}

export function useTakeNoteBack(id: string) {
  const accept = useAccepted(id);
  return useMutation({
    mutationFn: (note: string) =>
      unwrap(client.DELETE("/api/v1/notes/{note_id}", { params: { path: { note_id: note } } })),
    onSuccess: accept,
  });
}

/** What is noted stops the next flight: the plan and what today asks for follow it. */
function useAccepted(id: string) {
  const cache = useQueryClient();
  return async (all: NoteLine[]) => {
    await cache.invalidateQueries({ queryKey: keys.model(id) });
    cache.setQueryData(notesOf(id).queryKey, all);
    void cache.invalidateQueries({ queryKey: ["sortie"] });
  };
}

/** The sound of a voice note, as an address of this page: every browser plays it from there. */
export function useSound(voiceId: string, wanted: boolean) {
  return useQuery({
    queryKey: ["voice", voiceId],
    queryFn: async () => {
      const answer = await fetch(new Request(`/api/v1/voices/${voiceId}/sound`));
      if (!answer.ok) throw new Error("not here");
      return URL.createObjectURL(await answer.blob());
    },
    enabled: wanted,
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
    meta: { here: true },
  });
}
