import { useState } from "react";
import type { Plan } from "../../api/client";
import { QuantityField } from "../../components/quantity/QuantityField";
import { ProblemNote } from "../../components/ui/feedback";
import { readPlace } from "../../domain/place";
import { type SiteTyped, useKeepSite } from "../../queries/sites";

interface Props {
  id: string;
  site: Plan["site"];
  onKept: (id: string) => void;
}

/** A site as its pilot types it; nothing is filled in for him. */
export function SiteForm({ id, site, onKept }: Props) {
  const keep = useKeepSite();
  const [place, setPlace] = useState(site ? `${site.latitude_deg} ${site.longitude_deg}` : "");
  const [draft, setDraft] = useState<Partial<SiteTyped> & { name: string; rules: string }>({
    name: site?.name ?? "",
    rules: site?.rules ?? "",
    elevation_m: site?.elevation_m ?? null,
    heading_rad: site?.heading_rad ?? null,
    height_limit_m: site?.height_limit_m ?? null,
  });
  const put = (part: Partial<SiteTyped>) => setDraft((d) => ({ ...d, ...part }));
  const read = readPlace(place);
  const wrong = place.trim() !== "" && !read.ok ? read.reason : "";
  return (
    <div className="sheet mt-2 p-2" data-testid="site-form">
      <label className="block py-1">
        Name
        <input
          className="input mt-1 w-full text-base"
          maxLength={60}
          value={draft.name}
          onChange={(e) => put({ name: e.target.value })}
        />
      </label>
      <label className="block py-1">
        Where it lies{" "}
        <span className="label-small block">degrees north and east, as a map gives them: 47.27, 11.40</span>
        <input
          className="input mt-1 w-full text-base"
          inputMode="text"
          value={place}
          aria-invalid={wrong !== ""}
          onChange={(e) => setPlace(e.target.value)}
        />
      </label>
      {wrong ? (
        <p role="alert" className="font-semibold text-error">
          {wrong}
        </p>
      ) : null}
      <QuantityField
        label="Above the sea"
        quantity="distance"
        value={draft.elevation_m ?? null}
        onCommit={(v) => put({ elevation_m: v })}
      />
      <QuantityField
        label="Strip heads"
        hint="compass, degrees"
        quantity="angle"
        value={draft.heading_rad ?? null}
        onCommit={(v) => put({ heading_rad: v })}
      />
      <QuantityField
        label="Height limit"
        hint="over ground, if there is one"
        quantity="distance"
        value={draft.height_limit_m ?? null}
        onCommit={(v) => put({ height_limit_m: v })}
      />
      <label className="block py-1">
        Rules: noise, hours, edges nobody flies over
        <textarea
          className="textarea mt-1 w-full text-base"
          rows={3}
          maxLength={2000}
          value={draft.rules}
          onChange={(e) => put({ rules: e.target.value })}
        />
      </label>
      {keep.error ? <ProblemNote error={keep.error} /> : null}
      <button
        type="button"
        className="btn btn-primary mt-1 min-h-11"
        disabled={!draft.name.trim() || !read.ok || keep.isPending}
        onClick={() =>
          read.ok &&
          keep.mutate(
            { id, site: { put_away: false, ...draft, latitude_deg: read.latitude, longitude_deg: read.longitude } },
            { onSuccess: () => onKept(id) },
          )
        }
      >
        {keep.isPending ? "Keeping…" : "Keep it"}
      </button>
    </div>
  );
}
