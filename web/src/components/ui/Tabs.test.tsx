// @vitest-environment happy-dom
import { cleanup, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import { afterEach, expect, it } from "vitest";
import { Tabs } from "./Tabs";

afterEach(cleanup);

function Three() {
  const [chosen, setChosen] = useState<"One" | "Two" | "Three">("One");
  return <Tabs label="Tools" names={["One", "Two", "Three"]} chosen={chosen} onChoose={setChosen} />;
}

it("is one stop of Tab; arrows, Home and End choose and take the focus along, round both ends", async () => {
  render(<Three />);
  const chosen = () => screen.getByRole("tab", { selected: true }).textContent;
  await userEvent.tab();
  expect(document.activeElement?.textContent).toBe("One");
  for (const [key, name] of [
    ["{ArrowRight}", "Two"],
    ["{End}", "Three"],
    ["{ArrowRight}", "One"],
    ["{ArrowLeft}", "Three"],
    ["{Home}", "One"],
  ] as const) {
    await userEvent.keyboard(key);
    expect([chosen(), document.activeElement?.textContent]).toEqual([name, name]);
  }
  await userEvent.tab();
  expect(document.activeElement).toBe(document.body);
});
