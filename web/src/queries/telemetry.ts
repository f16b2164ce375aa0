import { useQuery } from "@tanstack/react-query";
import { client, unwrap } from "../api/client";
import type { components } from "../api/schema";

export type Told = components["schemas"]["TelemetryView"];

const OFTEN_MS = 500;

/** What the link tells of a card that was begun at a time [ms]; asked again while it is flown. After landing it tells the whole flight. */
export function useTelemetry(sortieId: string, cardId: string, begun: number | null) {
  return useQuery({
    queryKey: ["sortie", sortieId, "telemetry", cardId, begun],
    queryFn: () =>
      unwrap(
        client.GET("/api/v1/sorties/{sortie_id}/telemetry", {
          params: {
            path: { sortie_id: sortieId },
            query: { card_id: cardId, seconds: Math.min(Math.max(0, (Date.now() - (begun ?? 0)) / 1000), 3600) },
          },
        }),
      ),
    enabled: begun !== null,
    refetchInterval: (q) => (q.state.data?.ended || q.state.error ? false : OFTEN_MS),
    retry: false,
    gcTime: 0,
  });
}
