// @vitest-environment happy-dom
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, expect, it, vi } from "vitest";
import { SettingsProvider } from "../../../components/settings-context";
import { WayField } from "./desk";

afterEach(cleanup);

function field(value: number, onCommit: (v: number) => Promise<unknown>) {
  return render(
    <SettingsProvider>
      <WayField
        label="Pitch clicks"
        quantity="count"
        ways={["nose down", "nose up"]}
        value={value}
        disabled={false}
        onCommit={onCommit}
      />
    </SettingsProvider>,
  );
}

const choose = (words: string) =>
  fireEvent.change(screen.getByLabelText("way of Pitch clicks"), { target: { value: words } });
const type = (text: string) => {
  const input = screen.getByLabelText("Pitch clicks");
  fireEvent.focus(input);
  fireEvent.change(input, { target: { value: text } });
  fireEvent.blur(input);
};

it("shows a size and a word, never a sign", () => {
  field(-6, async () => undefined);
  expect((screen.getByLabelText("Pitch clicks") as HTMLInputElement).value).toBe("6");
  expect((screen.getByLabelText("way of Pitch clicks") as HTMLSelectElement).value).toBe("nose up");
});

it("turns what is there round when the other way is chosen", () => {
  const commit = vi.fn(async () => undefined);
  field(-6, commit);
  choose("nose down");
  expect(commit).toHaveBeenLastCalledWith(6);
});

it("remembers a way chosen before there is a size, and takes a typed minus as no second word", () => {
  const commit = vi.fn(async () => undefined);
  field(0, commit);
  choose("nose up");
  expect(commit).not.toHaveBeenCalled();
  type("4");
  expect(commit).toHaveBeenLastCalledWith(-4);
  type("-3");
  expect(commit).toHaveBeenLastCalledWith(-3);
});

it("turns a size that is still on its way, and says at once what was chosen", () => {
  const commit = vi.fn(() => new Promise(() => undefined));
  field(0, commit);
  type("6");
  choose("nose up");
  expect(commit.mock.calls).toEqual([[6], [-6]]);
  expect((screen.getByLabelText("way of Pitch clicks") as HTMLSelectElement).value).toBe("nose up");
});

it("goes back to what stands and says why when the other way is refused", async () => {
  field(6, async () => Promise.reject(new Error("refused")));
  choose("nose up");
  expect(await screen.findByRole("alert")).toBeTruthy();
  expect((screen.getByLabelText("way of Pitch clicks") as HTMLSelectElement).value).toBe("nose down");
});
