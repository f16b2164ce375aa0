import type { ControlSetup } from "../../../api/client";
import { Choice, Group, SmallButton, Tick, useEdit } from "../editing";
import { Findings, type SetupChange, SetupNumber, useDesk, usePut } from "./desk";
import { Switches, switchWords } from "./Switches";
import { TextField } from "./TextField";

type Radio = ControlSetup["radio"];

const onRadio =
  (change: (r: Radio) => Radio): SetupChange =>
  (s) => ({ ...s, radio: change(s.radio) });

const today = () => new Date().toISOString().slice(0, 10);

/** The radio sheet: what would hurt somebody first, then the shoulders with their switches, fail-safe and timers. */
export function RadioBoard() {
  const { answer, setup } = useDesk();
  const { readOnly } = useEdit();
  const put = usePut();
  return (
    <div data-testid="radio-board">
      <Findings findings={answer.radio} none="Nothing in the radio sheet contradicts itself." />
      <h2 className="mt-2 mb-1 text-lg">Switches, as you hold the radio</h2>
      <Shoulders />
      <h2 className="mt-3 mb-1 text-lg">Without signal</h2>
      <table className="table table-sm figures" data-testid="fail-safe">
        <thead>
          <tr>
            <th>channel</th>
            <th>it does</th>
            <th>proved</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {setup.radio.fail_safe.map((f) => (
            <tr key={f.channel}>
              <td>
                {f.channel} {f.use}
              </td>
              <td>
                {f.action === "hold"
                  ? "holds"
                  : f.action === "no_pulse"
                    ? "sends nothing"
                    : `goes to ${f.pulse_us.toFixed(0)} µs`}
              </td>
              <td className={f.proved_on ? "" : "font-semibold text-accent"}>{f.proved_on || "open: prove it"}</td>
              <td>
                {f.proved_on || readOnly ? null : (
                  <SmallButton
                    words="Seen to work today"
                    onClick={() =>
                      void put(
                        onRadio((r) => ({
                          ...r,
                          fail_safe: r.fail_safe.map((x) =>
                            x.channel === f.channel ? { ...x, proved_on: today() } : x,
                          ),
                        })),
                        `fail-safe of channel ${f.channel} proved`,
                      )
                    }
                  />
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="label-small">Any edit of a channel opens its proof again, and the fail-safe card with it.</p>
    </div>
  );
}

/** Both shoulders of the radio seen from above, switches in their places; those in a conflict stand out. */
function Shoulders() {
  const { answer, setup } = useDesk();
  const { switches } = setup.radio;
  const blamed = new Set(answer.radio.flatMap((f) => f.about ?? []));
  if (switches.length === 0) return <p>No switch is entered yet.</p>;
  return (
    <div className="grid grid-cols-2 gap-3">
      {(["left", "right"] as const).map((side) => (
        <div key={side} className="sheet p-2">
          <p className="label-small">{side} shoulder, from outside</p>
          <ol className={`mt-1 flex flex-wrap gap-2 ${side === "right" ? "flex-row-reverse" : ""}`}>
            {switches
              .filter((s) => s.side === side)
              .sort((a, b) => a.place - b.place)
              .map((s) => (
                <li
                  key={s.name}
                  className={`min-w-24 border-2 p-1.5 ${blamed.has(s.name) ? "border-accent" : "border-base-300"}`}
                >
                  <span className="text-lg font-bold">{s.name}</span>
                  <span className="block text-sm">{switchWords(s)}</span>
                </li>
              ))}
          </ol>
        </div>
      ))}
    </div>
  );
}

const MODES = [
  ["1", "mode 1"],
  ["2", "mode 2"],
  ["3", "mode 3"],
  ["4", "mode 4"],
] as const;

const ACTIONS = [
  ["position", "goes to a position"],
  ["hold", "holds"],
  ["no_pulse", "sends nothing"],
] as const;

/** Stick mode, trim levers, switches, channels, fail-safe, timers, copied memory. */
export function RadioFields() {
  const { answer, setup } = useDesk();
  const { readOnly } = useEdit();
  const put = usePut();
  const { radio } = setup;
  const set = (change: (r: Radio) => Radio, words: string) => void put(onRadio(change), words);
  const levers = ["pitch", "roll", "yaw"] as const;
  return (
    <div>
      <Group title="Sticks">
        <Choice
          label="Stick mode"
          value={String(radio.mode) as "1" | "2" | "3" | "4"}
          options={MODES}
          onChoose={(mode) => set((r) => ({ ...r, mode: Number(mode) }), "stick mode chosen")}
        />
        <p className="label-small">{answer.sticks}</p>
        {levers.map((axis) => (
          <Tick
            key={axis}
            label={`The ${axis} trim lever works the other way round`}
            checked={radio.levers_reversed.includes(axis)}
            onChange={(on) =>
              set(
                (r) => ({
                  ...r,
                  levers_reversed: on ? [...r.levers_reversed, axis] : r.levers_reversed.filter((a) => a !== axis),
                }),
                "trim lever noted",
              )
            }
          />
        ))}
      </Group>
      <Group title="Memory">
        <TextField
          label="Copied from the model"
          hint="empty: a fresh memory"
          value={radio.copied_from}
          onCommit={(copied_from) =>
            put(
              onRadio((r) => ({ ...r, copied_from, copy_checked: false })),
              "copied memory noted",
            )
          }
        />
        {radio.copied_from ? (
          <Tick
            label="Its trims, sub-trims and mixes were gone through"
            checked={radio.copy_checked}
            onChange={(copy_checked) => set((r) => ({ ...r, copy_checked }), "copied memory gone through")}
          />
        ) : null}
      </Group>
      <Switches />
      <Group title="Other channels">
        {radio.channels.map((c, i) => (
          <div key={c.channel} className="border-b border-base-300 py-1">
            <TextField
              label={`Channel ${c.channel} moves`}
              value={c.use}
              onCommit={(use) =>
                put(
                  onRadio((r) => ({ ...r, channels: r.channels.map((x, k) => (k === i ? { ...x, use } : x)) })),
                  "channel named",
                )
              }
            />
            <SetupNumber
              label={`Channel ${c.channel} at rest`}
              quantity="pulse"
              value={c.neutral_us}
              words="neutral pulse entered"
              change={(v) =>
                onRadio((r) => ({ ...r, channels: r.channels.map((x, k) => (k === i ? { ...x, neutral_us: v } : x)) }))
              }
            />
            <SmallButton
              quiet
              words="Remove"
              onClick={() => set((r) => ({ ...r, channels: r.channels.filter((_, k) => k !== i) }), "channel removed")}
            />
          </div>
        ))}
        <SmallButton
          words="Add a channel"
          onClick={() => {
            const used = new Set([...setup.fittings.map((f) => f.channel), ...radio.channels.map((c) => c.channel)]);
            const channel = Array.from({ length: 32 }, (_, i) => i + 1).find((n) => !used.has(n)) ?? 32;
            set(
              (r) => ({ ...r, channels: [...r.channels, { channel, use: "to be named", neutral_us: 1500 }] }),
              "channel added",
            );
          }}
        />
      </Group>
      <Group title="Fail-safe, channel by channel">
        {radio.fail_safe.map((f, i) => (
          <div key={f.channel} className="border-b border-base-300 py-1">
            <Choice
              label={`${f.channel} ${f.use}`}
              value={f.action}
              options={ACTIONS}
              onChoose={(action) =>
                set(
                  (r) => ({ ...r, fail_safe: r.fail_safe.map((x, k) => (k === i ? { ...x, action } : x)) }),
                  "fail-safe edited",
                )
              }
            />
            {f.action === "position" ? (
              <SetupNumber
                label={`Channel ${f.channel} goes to`}
                quantity="pulse"
                value={f.pulse_us}
                words="fail-safe edited"
                change={(v) =>
                  onRadio((r) => ({
                    ...r,
                    fail_safe: r.fail_safe.map((x, k) => (k === i ? { ...x, pulse_us: v } : x)),
                  }))
                }
              />
            ) : null}
          </div>
        ))}
        {readOnly ? null : (
          <SmallButton
            words="One row for every channel"
            onClick={() =>
              set((r) => {
                const known = new Set(r.fail_safe.map((f) => f.channel));
                const all = [
                  ...setup.fittings.map((f) => ({ channel: f.channel, use: f.role.replaceAll("_", " ") })),
                  ...r.channels.map((c) => ({ channel: c.channel, use: c.use })),
                ].filter((c) => !known.has(c.channel));
                const rows = all.map((c) => ({ ...c, action: "position" as const, pulse_us: 1500, proved_on: "" }));
                return { ...r, fail_safe: [...r.fail_safe, ...rows].sort((a, b) => a.channel - b.channel) };
              }, "fail-safe rows added")
            }
          />
        )}
      </Group>
      <Group title="Timers">
        {radio.timers.map((t, i) => (
          <div key={t.name} className="border-b border-base-300 py-1">
            <TextField
              label={`Timer ${i + 1} is for`}
              value={t.name}
              onCommit={(name) =>
                put(
                  onRadio((r) => ({ ...r, timers: r.timers.map((x, k) => (k === i ? { ...x, name } : x)) })),
                  "timer named",
                )
              }
            />
            <TextField
              label={`Timer ${i + 1} starts with`}
              value={t.starts_with}
              onCommit={(starts_with) =>
                put(
                  onRadio((r) => ({ ...r, timers: r.timers.map((x, k) => (k === i ? { ...x, starts_with } : x)) })),
                  "timer set",
                )
              }
            />
            <SetupNumber
              label={`${t.name} runs`}
              quantity="minutes"
              value={t.minutes}
              words="timer entered"
              change={(v) =>
                onRadio((r) => ({ ...r, timers: r.timers.map((x, k) => (k === i ? { ...x, minutes: v } : x)) }))
              }
            />
            <SmallButton
              quiet
              words="Remove"
              onClick={() => set((r) => ({ ...r, timers: r.timers.filter((_, k) => k !== i) }), "timer removed")}
            />
          </div>
        ))}
        <SmallButton
          words="Add a timer"
          onClick={() =>
            set(
              (r) => ({
                ...r,
                timers: [...r.timers, { name: `timer ${r.timers.length + 1}`, minutes: 5, starts_with: "throttle" }],
              }),
              "timer added",
            )
          }
        />
      </Group>
    </div>
  );
}
