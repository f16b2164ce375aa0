import type { BenchAnswer, Configuration } from "../../api/client";
import { stationWords } from "../../components/quantity/station";
import { useSettings } from "../../components/settings-context";
import { Choice, Measure, SmallButton, Tick, useEditing } from "./editing";

const LAUNCHES = [
  ["wheels", "from wheels or water"],
  ["hand", "thrown by hand"],
  ["bungee", "bungee or catapult"],
] as const;

const CLASSES = [
  ["trainer", "trainer"],
  ["camera_ship", "camera or survey ship"],
  ["sport", "sport model"],
  ["aerobatic", "aerobatic model"],
  ["glider", "glider"],
] as const;

const LIMITS = { wind_mps: 7, gust_spread_mps: 3.5, crosswind_mps: 4, experience: "practised" } as const;
const LIMIT_ROWS = [
  ["wind_mps", "Wind"],
  ["gust_spread_mps", "Gust above mean"],
  ["crosswind_mps", "Across the strip"],
] as const;

const EXPERIENCE = [
  ["learning", "still learning on such models"],
  ["practised", "practised with such models"],
  ["seasoned", "seasoned: many such models"],
] as const;

const DIVES = [
  ["keeps", "keeps its line"],
  ["eases", "eases out gently"],
  ["pulls_out", "pulls out"],
] as const;

const WISHES = [
  ["class", "the target of its class"],
  ["push", "push held inverted"],
  ["dive", "a dive that is let go"],
  ["touchdown", "back stick at touchdown"],
] as const;

type Wish = NonNullable<Configuration["wish"]>;

const FIRST_WISH: Record<Wish["behaviour"], Wish> = {
  push: { behaviour: "push", amount: 0.15, word: "" },
  dive: { behaviour: "dive", amount: 0, word: "eases" },
  touchdown: { behaviour: "touchdown", amount: 0.4, word: "" },
};

/** What the settled model should do: its class's target, or a behaviour and how much of it, with the margin that comes to. */
function BalancedFor({ goal }: { goal: BenchAnswer["goal"] }) {
  const { setup, edit } = useEditing();
  const wish = setup.wish ?? null;
  const put = (next: Wish | null) => void edit((s) => ({ ...s, wish: next }), "what it is balanced for chosen");
  // Who does not fly it inverted cannot see how much push it wants.
  const offered = WISHES.filter(([key]) => key !== "push" || setup.flown_inverted || wish?.behaviour === "push");
  const percent = (x: number) => (100 * x).toFixed(1);
  return (
    <fieldset className="mt-2 border-y border-base-300 py-1">
      <legend className="sr-only">Balanced for</legend>
      <Choice
        label="Balanced for"
        value={wish?.behaviour ?? "class"}
        options={offered}
        onChoose={(key) => put(key === "class" ? null : FIRST_WISH[key])}
      />
      {wish?.behaviour === "dive" ? (
        <Choice
          label="Let go at 35° down, it"
          value={(wish.word ?? "eases") as (typeof DIVES)[number][0]}
          options={DIVES}
          onChoose={(word) => put({ ...wish, word })}
        />
      ) : null}
      {wish && wish.behaviour !== "dive" ? (
        <Measure
          label={wish.behaviour === "push" ? "Stick held forward, of full" : "Stick held back, of full"}
          quantity="fraction"
          value={wish.amount ?? 0}
          words="what it is balanced for entered"
          change={(s, v) => ({ ...s, wish: { ...wish, amount: v } })}
        />
      ) : null}
      <p className="text-sm" aria-live="polite">
        That is a margin of {percent(goal.margin)}
        {goal.asked && !goal.bound ? ` ± ${percent(goal.sigma)}` : ""} % of the mean chord; {percent(goal.low)} to{" "}
        {percent(goal.high)} % will do. {goal.bound}
      </p>
    </fieldset>
  );
}

type Check = BenchAnswer["adequacy"][number];

function checkValue(show: ReturnType<typeof useSettings>["show"], { value, unit }: Check): string {
  if (unit === "m") return show(value, "distance");
  if (unit === "deg") return `${value.toFixed(0)}°`;
  if (unit === "s") return `${value.toFixed(0)} s`;
  return value.toFixed(value < 0.2 ? 3 : 2);
}

/** Class, site, limits and pack: what the wanted band and go / no-go are measured against. */
export function CheckTab({ answer }: { answer: BenchAnswer }) {
  const { setup, edit } = useEditing();
  const { show } = useSettings();
  const put = (part: Partial<Configuration>, words: string) => void edit((s) => ({ ...s, ...part }), words);
  return (
    <div>
      <Choice
        label="Class"
        value={setup.model_class ?? "sport"}
        options={CLASSES}
        onChoose={(model_class) => put({ model_class }, "class chosen")}
      />
      <Choice
        label="Take-off"
        value={setup.launch ?? "wheels"}
        options={LAUNCHES}
        onChoose={(launch) => put({ launch }, "take-off chosen")}
      />
      <Tick
        label="I fly this model inverted"
        checked={setup.flown_inverted ?? false}
        onChange={(flown_inverted) =>
          // Push held inverted goes with it: what is not flown is not asked for.
          put(
            { flown_inverted, wish: !flown_inverted && setup.wish?.behaviour === "push" ? null : (setup.wish ?? null) },
            "inverted flight chosen",
          )
        }
      />
      <BalancedFor goal={answer.goal} />
      <Measure
        label="Site above sea level"
        quantity="distance"
        value={setup.site_elevation_m ?? 0}
        words="site entered"
        change={(s, v) => ({ ...s, site_elevation_m: v })}
      />
      <Measure
        label="Air temperature, if known"
        hint="empty: the standard one for that height"
        quantity="temperature"
        value={setup.site_temperature_k ?? null}
        words="air temperature entered"
        change={(s, v) => ({ ...s, site_temperature_k: v })}
      />
      {setup.site_temperature_k ? (
        <SmallButton
          words="Use the standard temperature"
          quiet
          onClick={() => put({ site_temperature_k: null }, "standard air temperature used")}
        />
      ) : null}
      <Measure
        label="Cruise speed, if measured"
        quantity="speed"
        value={setup.cruise_speed_mps ?? null}
        words="cruise speed entered"
        change={(s, v) => ({ ...s, cruise_speed_mps: v })}
      />
      <Measure
        label="Pack or tank empty after"
        hint="in the air; a guess, until a pack is named in Plan"
        quantity="minutes"
        value={setup.pack_minutes ?? 8}
        words="pack minutes entered"
        change={(s, v) => ({ ...s, pack_minutes: v })}
      />
      <p className="mt-2 font-bold">My limits</p>
      {LIMIT_ROWS.map(([key, label]) => (
        <Measure
          key={key}
          label={label}
          quantity="speed"
          value={setup.limits?.[key] ?? LIMITS[key]}
          words="limits entered"
          change={(s, v) => ({ ...s, limits: { ...LIMITS, ...s.limits, [key]: v } })}
        />
      ))}
      <Choice
        label="I am"
        hint="with gusts: more for a known model and a seasoned hand"
        value={setup.limits?.experience ?? LIMITS.experience}
        options={EXPERIENCE}
        onChoose={(experience) => put({ limits: { ...LIMITS, ...setup.limits, experience } }, "experience chosen")}
      />
      <h2 className="mt-3 font-bold">Big enough?</h2>
      <ul>
        {answer.adequacy.map((a) => (
          <li key={a.key} className="border-b border-base-300 py-1">
            <span className="flex justify-between gap-2 font-semibold">
              <span>{a.label}</span>
              <span className={a.passes ? "" : "text-accent"}>{checkValue(show, a)}</span>
            </span>
            <span className={`block text-sm ${a.passes ? "" : "font-semibold text-accent"}`}>{a.words}</span>
          </li>
        ))}
      </ul>
      <div className="sheet mt-2 space-y-1 p-3 text-sm">
        <p>
          Mean chord {show(answer.mac_m, "length")}, its leading edge {stationWords(show, answer.x_le_mac_m)}.
        </p>
        <p>
          Chance of being behind the class minimum:{" "}
          {answer.risk < 0.001 ? "below 0.1 %" : show(answer.risk, "fraction")}.
        </p>
      </div>
    </div>
  );
}
