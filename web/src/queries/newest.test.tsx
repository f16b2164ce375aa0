// @vitest-environment happy-dom
import { act, renderHook } from "@testing-library/react";
import { beforeEach, expect, it, vi } from "vitest";
import { useNewest } from "./newest";

beforeEach(() => vi.stubGlobal("IS_REACT_ACT_ENVIRONMENT", true));

/** A server that answers when told, and a hook that asks it. */
function asked(first: number | null) {
  const open: { question: number; answer: (value: string) => void; fail: (e: Error) => void }[] = [];
  const ask = (question: number) =>
    new Promise<string>((answer, fail) => {
      open.push({ question, answer, fail });
    });
  const hook = renderHook(({ question }: { question: number | null }) => useNewest(question, ask), {
    initialProps: { question: first },
  });
  return { open, hook, answer: (i: number) => act(async () => open[i]?.answer(`of ${open[i]?.question}`)) };
}

it("has one request under way, and of sixty that come meanwhile sends the last", async () => {
  const { open, hook, answer } = asked(0);
  for (let i = 1; i <= 60; i++) hook.rerender({ question: i });
  expect(open.map((o) => o.question)).toEqual([0]);
  await answer(0);
  expect(open.map((o) => o.question)).toEqual([0, 60]);
  expect(hook.result.current).toMatchObject({ data: "of 0", behind: true });
  await answer(1);
  expect(hook.result.current).toMatchObject({ data: "of 60", error: null, behind: false });
  expect(open).toHaveLength(2);
});

it("shows nothing of a question that was taken back, and asks again after it", async () => {
  const { open, hook, answer } = asked(1);
  hook.rerender({ question: null });
  await answer(0);
  expect(hook.result.current).toMatchObject({ data: null, error: null, behind: false });
  hook.rerender({ question: 2 });
  await answer(1);
  expect(open).toHaveLength(2);
  expect(hook.result.current.data).toBe("of 2");
});

it("keeps the last answer beside an error, and goes on", async () => {
  const { open, hook, answer } = asked(1);
  await answer(0);
  hook.rerender({ question: 2 });
  await act(async () => open[1]?.fail(new Error("away")));
  expect(hook.result.current).toMatchObject({ data: "of 1", error: new Error("away") });
  hook.rerender({ question: 3 });
  await answer(2);
  expect(hook.result.current).toMatchObject({ data: "of 3", error: null, behind: false });
});

it("asks ahead of the rendering, and not once more with it", async () => {
  const { open, hook, answer } = asked(null);
  act(() => hook.result.current.ahead(1));
  expect(open).toHaveLength(1);
  hook.rerender({ question: 1 });
  expect(hook.result.current).toMatchObject({ data: null, behind: true });
  await answer(0);
  act(() => hook.result.current.ahead(2));
  await answer(1);
  hook.rerender({ question: 2 });
  expect(open.map((o) => o.question)).toEqual([1, 2]);
  expect(hook.result.current).toMatchObject({ data: "of 2", behind: false });
});

it("keeps what is the same in two answers", async () => {
  const ask = async (n: number) => ({ n, origins: { measured: 12 } });
  const hook = renderHook(({ n }) => useNewest(n, ask), { initialProps: { n: 1 } });
  await act(async () => undefined);
  const first = hook.result.current.data;
  hook.rerender({ n: 2 });
  await act(async () => undefined);
  expect(hook.result.current.data).toEqual({ n: 2, origins: { measured: 12 } });
  expect(hook.result.current.data?.origins).toBe(first?.origins);
});
