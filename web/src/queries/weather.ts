/** The wind by what it moves, and an aerodrome's report. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { client, unwrap } from "../api/client";

export function useWindForces() {
  return useQuery({
    queryKey: ["wind-forces"],
    queryFn: () => unwrap(client.GET("/api/v1/wind-forces")),
    staleTime: Number.POSITIVE_INFINITY,
  });
}

/** Read a report that was pasted; the air is that of the field's elevation. */
export function useMetar() {
  return useMutation({
    mutationFn: (body: { text: string; elevation_m: number }) => unwrap(client.POST("/api/v1/compute/metar", { body })),
  });
}
