import { Link } from "react-router";
import type { Configuration } from "../../api/client";
import { ConvergenceStrip } from "../../components/Convergence";
import { KitNote } from "../../components/KitNote";
import { useTheModel } from "../../components/model-context";
import { DamageMarks, damagedParts } from "../../drawing/DamageMarks";
import { boundsOf, type Point } from "../../drawing/geometry";
import { commonScale, Silhouette } from "../../drawing/Silhouette";
import { PlanView, SideView } from "../../drawing/views";
import { useShelf } from "../../queries/models";
import { useBoard } from "../../queries/sorties";

/** The model on the bench today: where it is in the loop and the one thing to do next. */
export default function TodayPage() {
  const model = useTheModel();
  const board = useBoard(model.id);
  const { today } = model;
  return (
    <div>
      <div className="grid gap-4 lg:grid-cols-[1.7fr_1fr]">
        <section className="sheet p-2" aria-label="the model from the side">
          <Portrait setup={model.setup} callouts={today.callouts} damaged={damagedParts(model.incidents)} />
        </section>
        <section className="flex flex-col justify-center gap-4">
          <h1 className="text-2xl leading-snug font-semibold">{today.sentence}</h1>
          <Link
            to={`/m/${model.id}/${today.target}`}
            className="btn btn-accent btn-lg h-auto min-h-14 self-start py-2 text-xl"
          >
            {today.button}
          </Link>
          {today.stops.length > 0 ? (
            <div className="sheet border-l-4 border-l-accent p-2" data-testid="today-stops">
              <p className="font-bold text-accent">As it is now, do not fly it</p>
              <ul>
                {today.stops.map((s) => (
                  <li key={s.words}>{s.words}</li>
                ))}
              </ul>
            </div>
          ) : null}
          {model.story ? <p className="text-secondary">{model.story}</p> : null}
        </section>
      </div>
      <div className="mt-4">
        <KitNote />
      </div>
      <section className="mt-4">
        <h2 className="mb-1 text-lg">How each behaviour closes in on its band</h2>
        {board.data && board.data.columns.length > 0 ? (
          <ConvergenceStrip board={board.data} />
        ) : (
          <p className="text-secondary">
            Nothing flown yet. After the first sortie each behaviour shows here as a line closing in.
          </p>
        )}
      </section>
      <Shelf currentId={model.id} />
    </div>
  );
}

const W = 760;
const H = 360;

interface PortraitProps {
  setup: Configuration;
  callouts: { part: string; words: string }[];
  damaged: string[];
}

function Portrait({ setup, callouts, damaged }: PortraitProps) {
  const a = setup.airframe;
  const b = boundsOf(a);
  const scale = Math.min((W - 40) / (b.xMax - b.xMin), (H - 120) / (b.zMax - b.zMin));
  const sideScale = Math.min(scale, (W - 60) / (b.xMax - b.xMin));
  const left = (W - sideScale * (b.xMax - b.xMin)) / 2;
  const zero = H / 2 + 10 + ((b.zMax + b.zMin) / 2) * sideScale;
  const map = (p: Point) => ({ x: left + (p.x - b.xMin) * sideScale, y: zero - p.y * sideScale });
  const planScale = Math.min(120 / (2 * b.halfSpan), 90 / (b.xMax - b.xMin));
  const above = (p: Point) => ({ x: p.y * planScale, y: (p.x - (b.xMin + b.xMax) / 2) * planScale });
  const tail = a.surfaces.find((s) => s.role !== "wing") ?? a.surfaces[0];
  const wing = a.surfaces[0];
  const battery = setup.items.find((i) => i.kind === "battery");
  const places: Record<string, Point> = {
    elevator: { x: (tail?.x_m ?? 0) + (tail?.sections[0]?.chord_m ?? 0) * 0.8, y: tail?.z_m ?? 0 },
    battery: { x: battery?.x_m ?? a.body.nose_x_m + 0.1, y: battery?.z_m ?? 0 },
    ballast: { x: a.body.nose_x_m + 0.03, y: 0 },
    balance: { x: (wing?.x_m ?? 0) + (wing?.sections[0]?.chord_m ?? 0) * 0.3, y: -a.body.height_m * 0.4 },
    wing: { x: (wing?.x_m ?? 0) + (wing?.sections[0]?.chord_m ?? 0) * 0.5, y: wing?.z_m ?? 0 },
    motor: { x: a.motor?.x_m ?? a.body.nose_x_m, y: a.motor?.z_m ?? 0 },
    fin: { x: (a.fin?.x_m ?? 0) + (a.fin?.root_chord_m ?? 0) / 2, y: (a.fin?.z_m ?? 0) + (a.fin?.height_m ?? 0) * 0.7 },
  };
  const sorted = callouts
    .map((c) => ({ ...c, at: map(places[c.part] ?? { x: 0, y: 0 }) }))
    .sort((p, q) => p.at.x - q.at.x)
    .slice(0, 4);
  return (
    <>
      <svg
        viewBox={`0 0 ${W} ${H}`}
        className="h-auto w-full"
        role="img"
        aria-label={`side view; ${callouts.map((c) => c.words).join("; ")}`}
      >
        <g transform={`translate(84 ${H - 64})`} opacity={0.9}>
          <PlanView airframe={a} map={above} />
          {damaged.length > 0 ? <DamageMarks parts={damaged} airframe={a} map={above} /> : null}
        </g>
        <SideView airframe={a} map={map} />
        {sorted.map((c, i) => {
          // Leader lines stand upright; texts alternate above and below so that neighbours never meet.
          const low = i % 2 === 1;
          const y = low ? H - 22 : 26 + (i % 4 === 2 ? 24 : 0);
          const width = c.words.length * 8.2;
          const x = Math.min(Math.max(c.at.x - width / 2, low ? 170 : 8), W - 8 - width);
          return (
            <g key={c.words}>
              <path d={`M${c.at.x} ${c.at.y}V${low ? y - 16 : y + 6}`} stroke="var(--color-accent)" strokeWidth={1.2} />
              <circle cx={c.at.x} cy={c.at.y} r={4} fill="var(--color-accent)" />
              <text x={x} y={y} fontSize={16} fontWeight={600} fill="var(--color-accent)" className="max-md:hidden">
                {c.words}
              </text>
              <text
                x={c.at.x + 8}
                y={y}
                fontSize={28}
                fontWeight={700}
                fill="var(--color-accent)"
                className="md:hidden"
              >
                {i + 1}
              </text>
            </g>
          );
        })}
      </svg>
      {/* On a phone the drawing is too small for words: they stand below it, by their numbers. */}
      <ol className="list-decimal pl-8 font-semibold text-accent md:hidden" aria-hidden="true">
        {sorted.map((c) => (
          <li key={c.words}>{c.words}</li>
        ))}
      </ol>
    </>
  );
}

function Shelf({ currentId }: { currentId: string }) {
  const shelf = useShelf();
  const standing = shelf.data?.filter((m) => !m.put_away) ?? [];
  if (!standing.some((m) => m.id !== currentId)) return null;
  const scale = commonScale(standing.map((m) => m.airframe));
  return (
    <section className="mt-4">
      <h2 className="mb-1 text-lg">On the shelf</h2>
      <ul className="flex flex-wrap gap-3">
        {standing
          .filter((m) => m.id !== currentId)
          .map((m) => (
            <li key={m.id}>
              <Link to={`/m/${m.id}`} className="sheet flex items-center gap-2 px-3 py-1 hover:bg-base-200">
                <Silhouette airframe={m.airframe} metres={scale} size={72} />
                <span className="font-semibold">{m.name}</span>
              </Link>
            </li>
          ))}
      </ul>
    </section>
  );
}
