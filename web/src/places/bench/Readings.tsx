import { useEffect, useState } from "react";
import type { BenchAnswer, Configuration, WeighingRequest } from "../../api/client";
import { QuantityField } from "../../components/quantity/QuantityField";
import { stationWords } from "../../components/quantity/station";
import { useSettings } from "../../components/settings-context";
import { ProblemNote } from "../../components/ui/feedback";
import { readAgain } from "../../domain/jig";
import { useScales } from "../../queries/measures";
import { useWeighing } from "../../queries/models";
import { Choice, SmallButton, useEdit, useEditing } from "./editing";

const METHODS = [
  ["station", "read from the datum"],
  ["span", "held on the wing"],
  ["two", "two scales"],
  ["three", "three scales, wheels"],
] as const;
type Method = (typeof METHODS)[number][0];

interface Scale {
  name: string;
  mass_kg: number | null;
  x_m: number | null;
  y_m: number;
}

const TWO: Scale[] = [
  { name: "front point", mass_kg: null, x_m: null, y_m: 0 },
  { name: "rear point", mass_kg: null, x_m: null, y_m: 0 },
];
const THREE: Scale[] = [
  { name: "nose or tail wheel", mass_kg: null, x_m: null, y_m: 0 },
  { name: "left wheel", mass_kg: null, x_m: null, y_m: -0.15 },
  { name: "right wheel", mass_kg: null, x_m: null, y_m: 0.15 },
];

/** The three wheels where the airframe says they stand; null without gear. */
function onWheels({ airframe: { gear } }: Configuration): Scale[] | null {
  if (!gear) return null;
  const third = gear.third_x_m < gear.main_x_m ? "nose wheel" : "tail wheel";
  return [
    { name: third, mass_kg: null, x_m: gear.third_x_m, y_m: 0 },
    { name: "left wheel", mass_kg: null, x_m: gear.main_x_m, y_m: -gear.main_y_m },
    { name: "right wheel", mass_kg: null, x_m: gear.main_x_m, y_m: gear.main_y_m },
  ];
}

/** How the balance was read, other than straight from the datum: the place is turned into a station with its error. */
export function Readings({
  answer,
  modelId,
  children,
}: {
  answer: BenchAnswer;
  modelId: string;
  children: React.ReactNode;
}) {
  const { setup } = useEditing();
  const three = onWheels(setup) ?? THREE;
  const [method, setMethod] = useState<Method>("station");
  return (
    <>
      <Choice label="How it is read" value={method} options={METHODS} onChoose={setMethod} />
      {method === "station" ? children : null}
      {method === "span" ? <SpanPlace answer={answer} /> : null}
      {method === "two" ? <Scales key="two" start={TWO} answer={answer} modelId={modelId} /> : null}
      {method === "three" ? <Scales key="three" start={three} answer={answer} modelId={modelId} /> : null}
    </>
  );
}

/** Held by fingers, pegs or a jig: on a swept wing the place along the span matters, so it is asked for. */
function SpanPlace({ answer }: { answer: BenchAnswer }) {
  const { setup, readOnly, onFocus } = useEditing();
  const [behind, setBehind] = useState<number | null>(null);
  const [y, setY] = useState(answer.fingers.y_m);
  const [sigma, setSigma] = useState(0.003);
  const wing = setup.airframe.surfaces.find((s) => s.role === "wing") ?? null;
  const ready = behind !== null && wing !== null;
  useEffect(() => onFocus(behind === null ? null : `held:${y}:${behind}`), [onFocus, y, behind]);
  return (
    <>
      <QuantityField
        label="Behind the leading edge there"
        quantity="length"
        extraDigits={1}
        value={behind}
        disabled={readOnly}
        onCommit={setBehind}
      />
      <QuantityField label="From the centre line" quantity="length" value={y} disabled={readOnly} onCommit={setY} />
      <QuantityField
        label="How well it was seen"
        hint="a jig 2 mm, fingers 5 mm"
        quantity="length"
        extraDigits={1}
        value={sigma}
        disabled={readOnly}
        onCommit={setSigma}
      />
      <Result
        answer={answer}
        request={ready ? { wing, span: { behind_le_m: behind, y_m: y, sigma_m: sigma } } : null}
      />
    </>
  );
}

/** Scales under wheels or points, each with its station. */
function Scales({ start, answer, modelId }: { start: Scale[]; answer: BenchAnswer; modelId: string }) {
  const device = useScales(modelId);
  const { readOnly } = useEdit();
  const [scales, setScales] = useState(start);
  const put = (at: number, part: Partial<Scale>) =>
    setScales((s) => s.map((q, i) => (i === at ? { ...q, ...part } : q)));
  const known = scales.flatMap((s) =>
    s.mass_kg !== null && s.x_m !== null ? [{ name: s.name, mass_kg: s.mass_kg, x_m: s.x_m, y_m: s.y_m }] : [],
  );
  const places = scales.flatMap((s) => (s.x_m === null ? [] : [{ name: s.name, x_m: s.x_m, y_m: s.y_m }]));
  const readDevice = () =>
    device.mutate(
      { places },
      {
        onSuccess: ({ masses_kg }) => setScales((all) => all.map((s, i) => ({ ...s, mass_kg: masses_kg[i] ?? null }))),
      },
    );
  return (
    <>
      {places.length === scales.length ? (
        <SmallButton words="Read the scales (simulated)" onClick={readDevice} />
      ) : (
        <p className="label-small">With every station entered, connected scales can be read.</p>
      )}
      {device.error ? <ProblemNote error={device.error} /> : null}
      {scales.map((s, i) => (
        <div key={s.name} className="mt-1 border-l-2 border-base-300 pl-2">
          <p className="text-sm font-semibold">Under the {s.name}</p>
          <QuantityField
            label={`Scale, ${s.name}`}
            quantity="mass"
            extraDigits={1}
            value={s.mass_kg}
            disabled={readOnly}
            onCommit={(mass_kg) => put(i, { mass_kg })}
          />
          <QuantityField
            label={`Station, ${s.name}`}
            quantity="length"
            value={s.x_m}
            disabled={readOnly}
            onCommit={(x_m) => put(i, { x_m })}
          />
          {s.y_m !== 0 ? (
            <QuantityField
              label={`Right of the centre line, ${s.name}`}
              hint="left is negative"
              quantity="length"
              value={s.y_m}
              disabled={readOnly}
              onCommit={(y_m) => put(i, { y_m })}
            />
          ) : null}
        </div>
      ))}
      <Result answer={answer} request={known.length === scales.length ? { supports: known } : null} />
    </>
  );
}

function Result({ answer, request }: { answer: BenchAnswer; request: Partial<WeighingRequest> | null }) {
  const { edit, setup } = useEditing();
  const { show } = useSettings();
  const weighing = useWeighing();
  const found = weighing.data;
  const use = (s: Configuration): Configuration =>
    found
      ? { ...s, jig: { x_m: found.x_m, sigma_m: found.sigma_m, items_x_m: answer.items_x_cg_m, how: found.how } }
      : s;
  const second = (s: Configuration): Configuration =>
    found && s.jig ? { ...s, jig: readAgain(s.jig, answer.items_x_cg_m, found) } : s;
  const away = found && found.mass_kg !== null ? found.mass_kg - massOf(answer) : 0;
  return (
    <div className="my-1">
      {request ? (
        <SmallButton
          words="What does that mean?"
          onClick={() => weighing.mutate({ wing: null, span: null, supports: [], ...request })}
        />
      ) : (
        <p className="label-small">Enter every reading.</p>
      )}
      {weighing.error ? <ProblemNote error={weighing.error} /> : null}
      {found ? (
        <div className="sheet mt-1 p-2">
          <p className="font-semibold">
            Balance point {stationWords(show, found.x_m, 1)} ± {show(found.sigma_m, "length", 1)}
            {found.y_m !== null
              ? `, ${show(Math.abs(found.y_m), "length", 1)} ${found.y_m > 0 ? "right" : "left"}`
              : ""}
          </p>
          {Math.abs(away) > 0.002 ? (
            <p className="text-sm">
              The scales say {show(found.mass_kg, "mass")}, the items {show(massOf(answer), "mass")}: correct the
              airframe's mass under Items.
            </p>
          ) : null}
          {found.caveats.map((c) => (
            <p key={c.code} className="text-sm font-semibold text-accent">
              {c.words}
            </p>
          ))}
          <SmallButton words="Use this reading" onClick={() => void edit(use, `balance ${found.how}`.slice(0, 290))} />
          {setup.jig ? (
            <SmallButton
              words="Use it as the second reading"
              onClick={() => void edit(second, `balance read again, ${found.how}`.slice(0, 290))}
            />
          ) : null}
        </div>
      ) : null}
    </div>
  );
}

function massOf(answer: BenchAnswer): number {
  return answer.numbers.find((n) => n.key === "mass")?.value ?? 0;
}
