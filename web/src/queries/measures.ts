import { useMutation, useQuery } from "@tanstack/react-query";
import { type Airframe, client, type Requests, unwrap } from "../api/client";

/** The section library; it never changes while the page lives. */
export function useSectionLibrary() {
  return useQuery({
    queryKey: ["sections"],
    queryFn: () => unwrap(client.GET("/api/v1/sections")),
    staleTime: Number.POSITIVE_INFINITY,
  });
}

/** A section from a coordinate file; a bad one is refused by its line. */
export function useSectionFile() {
  return useMutation({
    mutationFn: async (file: File) => {
      const body = await file.arrayBuffer();
      return unwrap(
        client.POST("/api/v1/compute/section", {
          params: { query: { file_name: file.name.slice(0, 200) } },
          body: body as unknown as string,
          bodySerializer: (b) => b as unknown as string,
          headers: { "Content-Type": "text/plain" },
        }),
      );
    },
  });
}

export function useEllipse() {
  return useMutation({
    mutationFn: (body: Requests["EllipseRequest"]) => unwrap(client.POST("/api/v1/compute/ellipse", { body })),
  });
}

export function useOutlineTable() {
  return useMutation({
    mutationFn: (body: Requests["OutlineRequest"]) => unwrap(client.POST("/api/v1/compute/outline", { body })),
  });
}

/** What to measure on this airframe, in order; asked anew only when its parts change, not its sizes. */
export function useMeasuringSteps(airframe: Airframe) {
  const shape = [
    ...airframe.surfaces.map((s) => `${s.key}/${s.role}/${s.sections.length}`),
    airframe.fin ? "fin" : "",
    airframe.motor ? "motor" : "",
    airframe.gear ? "gear" : "",
  ];
  return useQuery({
    queryKey: ["measuring-steps", ...shape],
    queryFn: () => unwrap(client.POST("/api/v1/compute/measuring-steps", { body: airframe })),
  });
}

export function useLateral() {
  return useMutation({
    mutationFn: (body: Requests["LateralRequest"]) => unwrap(client.POST("/api/v1/compute/lateral", { body })),
  });
}

export function useHeight() {
  return useMutation({
    mutationFn: (body: Requests["HeightRequest"]) => unwrap(client.POST("/api/v1/compute/height", { body })),
  });
}

export function useSwing() {
  return useMutation({
    mutationFn: (body: Requests["SwingRequest"]) => unwrap(client.POST("/api/v1/compute/swing", { body })),
  });
}

/** Where to mount a loose wing on a bare fuselage. Nothing is stored. */
export function useWingMount(id: string) {
  return useMutation({
    mutationFn: (body: Requests["MountRequest"]) =>
      unwrap(client.POST("/api/v1/models/{model_id}/wing-mount", { params: { path: { model_id: id } }, body })),
  });
}

/** What the scales under the model show now. */
export function useScales(id: string) {
  return useMutation({
    mutationFn: (body: Requests["ScalesRequest"]) =>
      unwrap(client.POST("/api/v1/models/{model_id}/scales", { params: { path: { model_id: id } }, body })),
  });
}
