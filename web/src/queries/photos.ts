import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { client, unwrap } from "../api/client";
import { newId } from "../domain/identity";

/** What a photo shows: an incident by its record, or an action by its order and place. */
export type PhotoOf = { record_id: string } | { work_order_id: string; position: number };

const key = (id: string) => ["model", id, "photos"] as const;

export function usePhotos(id: string) {
  return useQuery({
    queryKey: key(id),
    queryFn: () => unwrap(client.GET("/api/v1/models/{model_id}/photos", { params: { path: { model_id: id } } })),
  });
}

export function useAddPhoto(id: string, of: PhotoOf) {
  const cache = useQueryClient();
  return useMutation({
    scope: { id: `photos-${id}` },
    mutationFn: async (file: File) => {
      const body = await file.arrayBuffer();
      return unwrap(
        client.PUT("/api/v1/models/{model_id}/photos/{photo_id}", {
          params: { path: { model_id: id, photo_id: newId() }, query: of },
          body: body as unknown as string,
          bodySerializer: (b) => b as unknown as string,
          headers: { "Content-Type": file.type || "image/jpeg" },
        }),
      );
    },
    onSuccess: (all) => cache.setQueryData(key(id), all),
  });
}

export function useTakePhotoBack(id: string) {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: (photoId: string) =>
      unwrap(client.DELETE("/api/v1/photos/{photo_id}", { params: { path: { photo_id: photoId } } })),
    onSuccess: (all) => cache.setQueryData(key(id), all),
  });
}
