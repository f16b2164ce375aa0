/** Who is let in beyond this machine: what asks, codes that pair, devices that are paired. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { client, unwrap } from "../api/client";

export const FIELD = {
  queryKey: ["field"] as const,
  queryFn: () => unwrap(client.GET("/api/v1/field")),
};

/** What asks, and where devices find the program. */
export function useField() {
  return useQuery({ ...FIELD, retry: false });
}

/** Have a code shown, for a device of one's own or for a helper of one sortie. */
export function useShowCode() {
  return useMutation({
    mutationFn: (sortieId: string | null) =>
      unwrap(client.POST("/api/v1/field/codes", { body: { sortie_id: sortieId } })),
  });
}

/** Pair this device. */
export function usePair() {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: (body: { code: string; name: string }) => unwrap(client.POST("/api/v1/field/paired-devices", { body })),
    onSuccess: (field) => {
      cache.setQueryData(FIELD.queryKey, field);
      // What was refused before is asked for anew.
      void cache.invalidateQueries({ predicate: (q) => q.queryKey[0] !== FIELD.queryKey[0] });
    },
  });
}

const DEVICES = {
  queryKey: ["field", "devices"] as const,
  queryFn: () => unwrap(client.GET("/api/v1/field/paired-devices")),
};

/** The devices that are let in; asked again while a code is shown. */
export function usePairedDevices(enabled: boolean, watched: boolean) {
  return useQuery({ ...DEVICES, enabled, refetchInterval: watched ? 2_000 : false, retry: false });
}

export function useForget() {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: (id: string) =>
      unwrap(client.DELETE("/api/v1/field/paired-devices/{device_id}", { params: { path: { device_id: id } } })),
    onSuccess: (devices) => cache.setQueryData(DEVICES.queryKey, devices),
  });
}
