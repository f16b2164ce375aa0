// @vitest-environment happy-dom
import { cleanup, render, screen } from "@testing-library/react";
import { afterEach, describe, expect, it } from "vitest";
import type { BenchAnswer } from "../../api/client";
import { SettingsProvider } from "../../components/settings-context";
import { Schools } from "./Schools";

type School = BenchAnswer["schools"][number];
const school = (part: Partial<School>): School => ({
  key: "common",
  name: "25 to 30 % of the mean chord",
  from_m: 0.06,
  to_m: 0.075,
  static_margin: 0.14,
  risk: 0.004,
  computed: false,
  words: "What most are told.",
  ...part,
});
const answer = (part: Partial<BenchAnswer>) =>
  ({
    schools: [],
    remedies: [],
    x_cg_m: 0.07,
    x_np_m: 0.1,
    maiden: { reachable: true },
    ...part,
  }) as unknown as BenchAnswer;

function show(part: Partial<BenchAnswer>) {
  return render(
    <SettingsProvider>
      <Schools answer={answer(part)} />
    </SettingsProvider>,
  );
}

afterEach(cleanup);

describe("the schools side by side", () => {
  it("say stations, margin and risk in words, and mark what is dangerous", () => {
    show({
      schools: [school({}), school({ key: "published", name: "Published", from_m: 0.098, to_m: 0.098, risk: 0.99 })],
    });
    expect(screen.getByText(/60 mm to/).textContent).toContain(
      "75 mm behind the datum, margin 14.0 %. What most are told.",
    );
    expect(screen.getByText("risk 0.4 %").className).toBe("");
    expect(screen.getByText("risk 99.0 %").className).toContain("text-error");
    expect(screen.queryByText(/98 mm to/)).toBeNull();
  });

  it("never show a risk as nothing or as all", () => {
    show({ schools: [school({ risk: 0 }), school({ key: "b", name: "b", risk: 1 })] });
    expect(screen.getByText("risk below 0.1 %")).toBeTruthy();
    expect(screen.getByText("risk above 99.9 %")).toBeTruthy();
  });

  it("say what would help when no point is safe both ways", () => {
    const remedy = {
      key: "throw",
      name: "More elevator",
      aft_limit_m: 0,
      forward_limit_m: 0,
      room_m: 0,
      words: "25 % more.",
    };
    show({
      schools: [school({})],
      remedies: [remedy],
      maiden: { reachable: false } as BenchAnswer["maiden"],
    });
    expect(screen.getByText("No point is safe both ways: what would help")).toBeTruthy();
    expect(screen.getByText("More elevator.")).toBeTruthy();
  });

  it("are not there when nothing is said of such a layout", () => {
    expect(show({}).container.textContent).toBe("");
  });
});
