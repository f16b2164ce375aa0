import "fake-indexeddb/auto";
import { QueryClient } from "@tanstack/react-query";
import { persistQueryClientRestore, persistQueryClientSave } from "@tanstack/react-query-persist-client";
import { expect, it, vi } from "vitest";
import { KEPT, worthKeeping } from "./kept";

const PLAN = ["model", "m1", "plan"];

async function reopened(): Promise<QueryClient> {
  const later = new QueryClient();
  await persistQueryClientRestore({ queryClient: later, ...KEPT });
  return later;
}

it("keeps what the program last said through a page that asked again and got no answer", async () => {
  const cache = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  const answers = [() => "the plan", () => Promise.reject(new Error("away"))];
  const ask = () => cache.prefetchQuery({ queryKey: PLAN, queryFn: () => answers.shift()?.(), staleTime: 0 });
  await ask();
  await ask();
  expect(cache.getQueryState(PLAN)?.status).toBe("error");
  await persistQueryClientSave({ queryClient: cache, ...KEPT });
  await vi.waitFor(async () => expect((await reopened()).getQueryData(PLAN)).toBe("the plan"));
  expect((await reopened()).getQueryState(PLAN)).toMatchObject({ status: "success", error: null });
});

it("keeps the program's own answers and not what was only tried out", () => {
  const composed = { battery_m: null, use_ballast: true, leave: [] };
  expect(worthKeeping(["model", "m1", "rework", composed])).toBe(true);
  expect(worthKeeping(["model", "m1", "rework", { ...composed, battery_m: 0.01 }])).toBe(false);
  expect(worthKeeping(["model", "m1", "rework", { ...composed, leave: ["pitch"] }])).toBe(false);
  expect(worthKeeping(["model", "m1", "rework", "ways", composed])).toBe(false);
  expect(worthKeeping(["model", "m1", "plan", { pin: ["F5"], drop: [] }])).toBe(false);
  expect(worthKeeping(["directions", "tail", { layout: "tail", mode: 2, levers: "" }])).toBe(true);
});
