import type { BenchAnswer, Configuration } from "../../api/client";
import { QuantityField } from "../../components/quantity/QuantityField";
import { useSettings } from "../../components/settings-context";
import type { TabProps } from "./BenchPage";

const CLASSES: Record<string, string> = {
  trainer: "trainer",
  camera_ship: "camera or survey ship",
  sport: "sport model",
  aerobatic: "aerobatic model",
  glider: "glider",
};

/** Class, site, limits and pack: what the wanted band and go / no-go are measured against. */
export function CheckTab({ setup, readOnly, save, answer }: TabProps & { answer: BenchAnswer }) {
  const { show } = useSettings();
  const put = (next: Partial<Configuration>, words: string) => save({ ...setup, ...next }, words);
  const limits = setup.limits ?? { wind_mps: 7, gust_spread_mps: 3.5, crosswind_mps: 4 };
  return (
    <div>
      <label className="flex items-center justify-between gap-2 py-1">
        Class
        <select
          className="select select-sm w-52 text-base"
          value={setup.model_class ?? "sport"}
          disabled={readOnly}
          onChange={(e) =>
            void put({ model_class: e.target.value as NonNullable<Configuration["model_class"]> }, "class chosen")
          }
        >
          {Object.entries(CLASSES).map(([key, words]) => (
            <option key={key} value={key}>
              {words}
            </option>
          ))}
        </select>
      </label>
      <label className="flex items-center gap-2 py-1">
        <input
          type="checkbox"
          className="checkbox checkbox-sm"
          checked={setup.flown_inverted ?? false}
          disabled={readOnly}
          onChange={(e) => void put({ flown_inverted: e.target.checked }, "inverted flight chosen")}
        />
        I fly this model inverted
      </label>
      <QuantityField
        label="Site above sea level"
        quantity="length"
        value={setup.site_elevation_m ?? 0}
        disabled={readOnly}
        onCommit={(v) => put({ site_elevation_m: v }, "site entered")}
      />
      <QuantityField
        label="Cruise speed, if measured"
        quantity="speed"
        value={setup.cruise_speed_mps ?? null}
        disabled={readOnly}
        onCommit={(v) => put({ cruise_speed_mps: v }, "cruise speed entered")}
      />
      <QuantityField
        label="Safe minutes of the pack"
        quantity="minutes"
        value={setup.pack_minutes ?? 8}
        disabled={readOnly}
        onCommit={(v) => put({ pack_minutes: v }, "pack minutes entered")}
      />
      <p className="mt-2 font-bold">My limits</p>
      <QuantityField
        label="Wind"
        quantity="speed"
        value={limits.wind_mps ?? 7}
        disabled={readOnly}
        onCommit={(v) => put({ limits: { ...limits, wind_mps: v } }, "limits entered")}
      />
      <QuantityField
        label="Gust above mean"
        quantity="speed"
        value={limits.gust_spread_mps ?? 3.5}
        disabled={readOnly}
        onCommit={(v) => put({ limits: { ...limits, gust_spread_mps: v } }, "limits entered")}
      />
      <QuantityField
        label="Across the strip"
        quantity="speed"
        value={limits.crosswind_mps ?? 4}
        disabled={readOnly}
        onCommit={(v) => put({ limits: { ...limits, crosswind_mps: v } }, "limits entered")}
      />
      <div className="sheet mt-2 space-y-1 p-3 text-sm">
        <p>
          Mean chord {show(answer.mac_m, "length")}, its leading edge {show(answer.x_le_mac_m, "length")} from the
          datum.
        </p>
        <p>
          Chance of being behind the class minimum:{" "}
          {answer.risk < 0.001 ? "below 0.1 %" : show(answer.risk, "fraction")}.
        </p>
      </div>
    </div>
  );
}
