import type { Airframe, Said, Section, Surface } from "../../api/client";
import { type Change, Choice, Group, Measure, SmallButton, useEdit } from "./editing";
import { OutlineTools, SectionChoice } from "./OutlineFields";

const MOST_CHORDS = 24;

const ROLES = [
  ["wing", "wing"],
  ["tail", "tail, or rear wing"],
  ["canard", "foreplane"],
] as const;

/** A change of one lifting surface. */
function onSurface(key: string, change: (surface: Surface) => Surface): Change {
  return (s) => ({
    ...s,
    airframe: { ...s.airframe, surfaces: s.airframe.surfaces.map((f) => (f.key === key ? change(f) : f)) },
  });
}

interface Props {
  surface: Surface;
  /** Its place among the surfaces, and whether there are others. */
  index: number;
  many: boolean;
  /** What is found of all surfaces. */
  findings: Said[];
}

/** Station, height and incidence of a surface, then its chords from root to tip. */
export function SurfaceFields({ surface, index, many, findings }: Props) {
  const { edit } = useEdit();
  const name = surface.key;
  const put = (change: (surface: Surface) => Surface) => onSurface(name, change);
  const at = `surfaces.${index}`;
  return (
    <Group
      title={name[0]?.toUpperCase() + name.slice(1)}
      action={
        many ? <SmallButton words="remove" quiet onClick={() => void edit(without(name), `${name} removed`)} /> : null
      }
    >
      {findings
        .filter((f) => f.about.includes(name))
        .map((f) => (
          <p key={f.words} className={f.severity === "stop" ? "font-semibold text-error" : "text-sm"}>
            {f.words}
          </p>
        ))}
      <Choice
        label="What it is"
        value={surface.role}
        options={ROLES}
        onChoose={(role) =>
          void edit(
            put((f) => ({ ...f, role })),
            `${name} is now a ${role}`,
          )
        }
      />
      <Measure
        label="Root leading edge, from the datum"
        quantity="length"
        value={surface.x_m}
        at={`${at}.x_m`}
        focus={`surface:${name}:0:x_m`}
        words={`${name} station measured`}
        change={(s, v) => put((f) => ({ ...f, x_m: v }))(s)}
      />
      <Measure
        label="Height above the datum line"
        quantity="length"
        value={surface.z_m}
        at={`${at}.z_m`}
        words={`${name} height measured`}
        change={(s, v) => put((f) => ({ ...f, z_m: v }))(s)}
      />
      <Measure
        label="Incidence of the root"
        hint="leading edge up is positive"
        quantity="angle"
        value={surface.incidence_rad ?? 0}
        at={`${at}.incidence_rad`}
        words={`${name} incidence measured`}
        change={(s, v) => put((f) => ({ ...f, incidence_rad: v }))(s)}
      />
      {surface.sections.map((section, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: chords have no other identity than their place
        <SectionFields key={i} surface={surface} section={section} index={i} at={`${at}.sections.${i}`} />
      ))}
      {CONTROL_FIELDS.map(({ key, label, fallback }) => (
        <Measure
          key={key}
          label={label}
          quantity="fraction"
          value={surface[key] ?? fallback}
          words={`${name} control measured`}
          change={(s, v) => put((f) => ({ ...f, [key]: v }))(s)}
        />
      ))}
      {surface.sections.length < MOST_CHORDS ? (
        <SmallButton
          words="Add a chord"
          onClick={() =>
            void edit(
              put((f) => ({ ...f, sections: withExtraChord(f.sections) })),
              `${name} chord added`,
            )
          }
        />
      ) : null}
      <OutlineTools surface={surface} put={put} />
      <SectionChoice surface={surface} put={put} />
    </Group>
  );
}

const CONTROL_FIELDS = [
  { key: "hinge_fraction", label: "Hinge line, from the leading edge", fallback: 0.75 },
  { key: "control_inner", label: "Moving part begins, of the half span", fallback: 0 },
  { key: "control_outer", label: "Moving part ends, of the half span", fallback: 1 },
] as const;

const without =
  (key: string): Change =>
  (s) => ({ ...s, airframe: { ...s.airframe, surfaces: s.airframe.surfaces.filter((f) => f.key !== key) } });

/** A further surface, placed where one of its kind usually stands; it is then corrected by ruler. */
export function newSurface(role: Surface["role"], airframe: Airframe): Surface {
  const wing = airframe.surfaces.find((f) => f.role === "wing");
  const root = wing?.sections[0]?.chord_m ?? 0.2;
  const half = wing?.sections.at(-1)?.y_m ?? 0.6;
  const names = airframe.surfaces.map((f) => f.key);
  const name = { wing: "second wing", tail: "tail", canard: "foreplane" }[role];
  const key = names.includes(name) ? `${name} ${names.length + 1}` : name;
  const share = role === "wing" ? 1 : 0.4;
  const before = Math.max(1, airframe.surfaces.filter((f) => f.role === role).length);
  const x_m = (wing?.x_m ?? 0) + before * { wing: 0.2, tail: 2.8, canard: -2.2 }[role] * root;
  const z_m = (wing?.z_m ?? 0) + before * { wing: -0.8, tail: 0.3, canard: 0.3 }[role] * root;
  const chord = role === "wing" ? root : 0.6 * root;
  const section = (y_m: number): Section => ({ y_m, x_offset_m: 0, chord_m: chord, z_offset_m: 0, twist_rad: 0 });
  return {
    key,
    role,
    x_m,
    z_m,
    sections: [section(0), section(share * half)],
    incidence_rad: 0,
    camber: "symmetrical",
    hinge_fraction: 0.7,
    control_inner: role === "wing" ? 0.5 : 0,
    control_outer: role === "wing" ? 0.95 : 1,
  };
}

const SECTION_FIELDS = [
  { key: "y_m", label: "Distance from the centre line", quantity: "length", root: false, sign: 1, drawn: true },
  { key: "chord_m", label: "Chord", quantity: "length", root: true, sign: 1, drawn: true },
  { key: "x_offset_m", label: "Leading edge behind the root's", quantity: "length", root: false, sign: 1, drawn: true },
  { key: "z_offset_m", label: "Rise above the root", quantity: "length", root: false, sign: 1, drawn: false },
  {
    key: "twist_rad",
    label: "Wash-out, right half",
    hint: "leading edge down against the right root is positive",
    quantity: "angle",
    root: false,
    sign: -1,
    drawn: false,
  },
  {
    key: "left_twist_rad",
    label: "Wash-out, left half",
    hint: "as the right one until you measure it",
    quantity: "angle",
    root: true,
    sign: -1,
    drawn: false,
  },
] as const;

function SectionFields({
  surface,
  section,
  index,
  at,
}: {
  surface: Surface;
  section: Section;
  index: number;
  at: string;
}) {
  const { edit } = useEdit();
  const name = surface.key;
  const last = surface.sections.length - 1;
  const title = index === 0 ? "Root chord" : index === last ? "Tip chord" : `Chord ${index + 1}`;
  const removed = onSurface(name, (f) => ({ ...f, sections: f.sections.filter((_, k) => k !== index) }));
  return (
    <div className="mt-1 border-l-2 border-base-300 pl-2">
      <p className="flex items-center justify-between text-sm font-semibold">
        {title}
        {index > 0 && last > 1 ? (
          <SmallButton words="remove" quiet onClick={() => void edit(removed, `${name} chord removed`)} />
        ) : null}
      </p>
      {SECTION_FIELDS.filter((f) => index > 0 || f.root).map(({ key, root: _, sign, drawn, ...field }) => (
        <Measure
          key={key}
          {...field}
          value={sign * (section[key] ?? (key === "left_twist_rad" ? section.twist_rad : 0)) + 0}
          {...(drawn ? { focus: `surface:${name}:${index}:${key}` } : {})}
          words={`${name} measured`}
          at={`${at}.${key}`}
          change={(s, v) =>
            onSurface(name, (f) => ({
              ...f,
              sections: f.sections.map((c, i) => (i === index ? { ...c, [key]: sign * v } : c)),
            }))(s)
          }
        />
      ))}
    </div>
  );
}

/** A new chord half way along the outermost panel, on its straight edges. */
export function withExtraChord(sections: Section[]): Section[] {
  const [a, b] = sections.slice(-2);
  if (!a || !b) return sections;
  const mid = (p: number | undefined, q: number | undefined) => ((p ?? 0) + (q ?? 0)) / 2;
  const extra: Section = {
    y_m: mid(a.y_m, b.y_m),
    x_offset_m: mid(a.x_offset_m, b.x_offset_m),
    chord_m: mid(a.chord_m, b.chord_m),
    z_offset_m: mid(a.z_offset_m, b.z_offset_m),
    twist_rad: mid(a.twist_rad, b.twist_rad),
  };
  return [...sections.slice(0, -1), extra, b];
}
