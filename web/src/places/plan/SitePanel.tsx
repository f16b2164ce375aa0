import { useState } from "react";
import { inOwnUnits, type Plan } from "../../api/client";
import { ProblemNote } from "../../components/ui/feedback";
import { newId } from "../../domain/identity";
import { when } from "../../domain/time";
import { SunAndStrip } from "../../drawing/SunAndStrip";
import { useFlyAt, useSites } from "../../queries/sites";
import { SiteForm } from "./SiteForm";

interface Props {
  modelId: string;
  plan: Pick<Plan, "site_id" | "site" | "light" | "at_the_site" | "wind_read">;
  busy: boolean;
}

/** Where it is flown: the light there, what the site allows, its rules as they were typed. */
export function SitePanel({ modelId, plan, busy }: Props) {
  const sites = useSites();
  const fly = useFlyAt(modelId);
  const [open, setOpen] = useState<string | null>(null);
  const { site, light } = plan;
  const ready = (sites.data ?? []).filter((s) => !s.put_away || s.id === plan.site_id);
  const heading = plan.wind_read?.wind.strip_heading_rad ?? site?.heading_rad ?? null;
  return (
    <section className="mb-4" data-fields data-testid="site-panel">
      <h2 className="mb-1 text-lg">Site and light</h2>
      <label className="flex items-center gap-2 py-1">
        <span className="flex-1">Flown at</span>
        <select
          className="select min-h-11 w-44 text-base"
          value={plan.site_id ?? ""}
          disabled={busy || fly.isPending}
          onChange={(e) => fly.mutate(e.target.value || null)}
        >
          <option value="">not said</option>
          {ready.map((s) => (
            <option key={s.id} value={s.id}>
              {s.site.name}
            </option>
          ))}
        </select>
      </label>
      {fly.error ? <ProblemNote error={fly.error} /> : null}
      {sites.error ? <ProblemNote error={sites.error} onRetry={() => void sites.refetch()} /> : null}
      {light ? (
        <>
          <p className="font-semibold">{dayWords(light.day)}</p>
          <SunAndStrip
            bearing_rad={light.sun.bearing_rad}
            height_rad={light.sun.height_rad}
            heading_rad={heading}
            dazzles={light.on_final || light.after_take_off}
          />
        </>
      ) : (
        <p className="label-small">
          Say where it is flown to hear of dusk, of the sun in your eyes and of height limits.
        </p>
      )}
      <ul className="mb-1 grid gap-1">
        {plan.at_the_site
          .filter((f) => f.severity !== "stop")
          .map((f) => (
            <li key={f.code} className="border-l-4 border-l-accent pl-2 font-semibold">
              {f.words}
            </li>
          ))}
      </ul>
      {site?.rules ? <p className="sheet mb-1 p-2 whitespace-pre-line">{site.rules}</p> : null}
      <div className="flex flex-wrap gap-2">
        {plan.site_id ? (
          <button type="button" className="btn min-h-11" onClick={() => setOpen(open ? null : plan.site_id)}>
            Change this site
          </button>
        ) : null}
        <button type="button" className="btn min-h-11" onClick={() => setOpen(open ? null : newId())}>
          Describe a site
        </button>
      </div>
      {open ? (
        <SiteForm
          key={open}
          id={open}
          site={open === plan.site_id ? site : null}
          onKept={(id) => {
            setOpen(null);
            if (id !== plan.site_id) fly.mutate(id);
          }}
        />
      ) : null}
      <FieldDay modelId={modelId} />
    </section>
  );
}

type Day = NonNullable<Plan["light"]>["day"];

function dayWords(day: Day): string {
  if (day.always === true) return "The sun does not set here today.";
  if (day.always === false) return "The sun does not rise here today.";
  if (!day.sunrise || !day.sunset || !day.dusk) return "";
  const at = (t: string) => when(new Date(t), new Date(t));
  return `Sun up ${at(day.sunrise)} to ${at(day.sunset)}, dark from ${at(day.dusk)}, by this device's clock.`;
}

/** The day for a calendar: when one goes, and the file. */
function FieldDay({ modelId }: { modelId: string }) {
  const [begins, setBegins] = useState("");
  const at = begins ? new Date(begins) : null;
  const good = at !== null && !Number.isNaN(at.getTime());
  return (
    <details className="mt-1">
      <summary className="min-h-11 content-center">Into the calendar</summary>
      <div className="flex flex-wrap items-end gap-2">
        <label className="block">
          At the field from
          <input
            type="datetime-local"
            className="input mt-1 block text-base"
            value={begins}
            onChange={(e) => setBegins(e.target.value)}
          />
        </label>
        {good ? (
          <a
            className="btn min-h-11"
            href={inOwnUnits(`/api/v1/models/${modelId}/day.ics?begins=${encodeURIComponent(at.toISOString())}`)}
          >
            Calendar file
          </a>
        ) : (
          <span className="label-small">Say when, then the file with cards, gates and light is offered.</span>
        )}
      </div>
    </details>
  );
}
