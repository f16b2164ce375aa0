import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type ControlsView, client, type Requests, unwrap, type Whole } from "../api/client";
import { accept, ifMatch, keys } from "./models";

export const controlsOf = (id: string, revision: number) => ({
  queryKey: [...keys.bench(id), "controls", revision],
  // The server always sends every field of a set-up, those with a usual value included.
  queryFn: async () =>
    (await unwrap(
      client.GET("/api/v1/models/{model_id}/controls", { params: { path: { model_id: id } } }),
    )) as Whole<ControlsView>,
});

/** The controls desk of a model as it stands; fetched anew whenever the setup is saved. */
export function useControls(id: string, revision: number) {
  return useQuery({ ...controlsOf(id, revision), placeholderData: (before) => before });
}

export function useHoles(id: string) {
  return useMutation({
    mutationFn: (body: Requests["HolesRequest"]) =>
      unwrap(client.POST("/api/v1/models/{model_id}/holes", { params: { path: { model_id: id } }, body })),
  });
}

/** The lean that sets a servo arm square to its rod. Nothing is stored. */
export function useSquareArm(id: string) {
  return useMutation({
    mutationFn: (role: string) =>
      unwrap(client.POST("/api/v1/models/{model_id}/square-arm/{role}", { params: { path: { model_id: id, role } } })),
  });
}

/** The rate that gives a throw at the trailing edge. Nothing is stored. */
export function useRateFor(id: string) {
  return useMutation({
    mutationFn: (body: { axis: "pitch" | "roll" | "yaw"; straight_m: number; first: boolean }) =>
      unwrap(client.POST("/api/v1/models/{model_id}/rate-for", { params: { path: { model_id: id } }, body })),
  });
}

export function useShim() {
  return useMutation({
    mutationFn: (body: Requests["ShimRequest"]) => unwrap(client.POST("/api/v1/compute/shim", { body })),
  });
}

/** Move trim out of the radio; saved at once, the answer says what to do by hand and what to find. */
export function useMoveTrim(id: string) {
  const cache = useQueryClient();
  return useMutation({
    scope: { id: `setup-${id}` },
    mutationFn: (body: { base_revision: number; way: "clevis" | "sub_trim" | "midpoint" }) =>
      unwrap(
        client.POST("/api/v1/models/{model_id}/trim-transfer", {
          params: { path: { model_id: id } },
          body: { ...body, axes: ["pitch", "roll", "yaw"] },
        }),
      ),
    onSuccess: (answer) => accept(cache, answer.model),
  });
}

export function useLevelReference(id: string) {
  return useMutation({
    mutationFn: (body: { height_m: number; seconds: number }) =>
      unwrap(client.POST("/api/v1/models/{model_id}/level-reference", { params: { path: { model_id: id } }, body })),
  });
}

export function useReversal(id: string) {
  return useMutation({
    mutationFn: (body: Requests["ReversalRequest"]) =>
      unwrap(client.POST("/api/v1/models/{model_id}/reversal", { params: { path: { model_id: id } }, body })),
  });
}

/** What radio and controller hold now; with `write_sheet` the set-up sheet is kept in both. */
export function useDevices(id: string) {
  return useMutation({
    mutationFn: (write_sheet: boolean) =>
      unwrap(
        client.POST("/api/v1/models/{model_id}/devices", { params: { path: { model_id: id } }, body: { write_sheet } }),
      ),
  });
}

/** Set the rates from a table of throws; a bad one is refused by row and column, and nothing is changed. */
export function useThrowTable(id: string) {
  const cache = useQueryClient();
  return useMutation({
    scope: { id: `setup-${id}` },
    mutationFn: async (file: File) => {
      const body = await file.arrayBuffer();
      return unwrap(
        client.PUT("/api/v1/models/{model_id}/throws.csv", {
          params: { path: { model_id: id } },
          body: body as unknown as string,
          bodySerializer: (b) => b as unknown as string,
          headers: { "Content-Type": "text/csv", ...(await ifMatch(cache, id)) },
        }),
      );
    },
    onSuccess: (model) => accept(cache, model),
  });
}
