// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { renderHook } from "@testing-library/react";
import type { ReactNode } from "react";
import { expect, it } from "vitest";
import type { Configuration, ModelDetail } from "../api/client";
import { server } from "../testing/server";
import { keys, useEditSetup } from "./models";

const START = { id: "m", revision: 4, setup: { pack_minutes: 8, site_elevation_m: 0 } } as unknown as ModelDetail;

it("saves two quick entries one after the other, the second on top of the first", async () => {
  const seen: { base: number; setup: Configuration }[] = [];
  server.answer = async (request) => {
    const body = (await request.json()) as { base_revision: number; setup: Configuration };
    seen.push({ base: body.base_revision, setup: body.setup });
    await new Promise((done) => setTimeout(done, 20));
    return Response.json({ ...START, revision: body.base_revision + 1, setup: body.setup });
  };
  const cache = new QueryClient();
  cache.setQueryData(keys.model("m"), START);
  const wrapper = ({ children }: { children: ReactNode }) => (
    <QueryClientProvider client={cache}>{children}</QueryClientProvider>
  );
  const { result } = renderHook(() => useEditSetup("m"), { wrapper });
  await Promise.all([
    result.current.mutateAsync({ change: (s) => ({ ...s, pack_minutes: 11 }), words: "pack" }),
    result.current.mutateAsync({ change: (s) => ({ ...s, site_elevation_m: 500 }), words: "site" }),
  ]);
  expect(seen.map((s) => s.base)).toEqual([4, 5]);
  expect(seen[1]?.setup).toMatchObject({ pack_minutes: 11, site_elevation_m: 500 });
  expect(cache.getQueryData<ModelDetail>(keys.model("m"))?.revision).toBe(6);
});
