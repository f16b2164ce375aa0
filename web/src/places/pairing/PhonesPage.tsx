import { useState } from "react";
import type { Schemas } from "../../api/client";
import { ShownCode } from "../../components/ShownCode";
import { TakeIn } from "../../components/TakeIn";
import { Heading, Loading, ProblemNote } from "../../components/ui/feedback";
import { when } from "../../domain/time";
import { useField, useForget, usePairedDevices, useShowCode } from "../../queries/pairing";
import { Trust } from "./Trust";

/** Phones and helpers: pairing a device, who is let in, what vouches for the program's name. */
export default function PhonesPage() {
  const field = useField();
  if (field.isPending) return <Loading words="Asking the program…" />;
  if (!field.data) return <ProblemNote error={field.error} onRetry={() => void field.refetch()} />;
  return (
    <div className="mx-auto max-w-3xl">
      <Heading title="Phones and helpers" />
      {field.data.serving ? <Serving field={field.data} /> : <OnlyHere />}
      <div className="mt-4">
        <TakeIn />
      </div>
    </div>
  );
}

function OnlyHere() {
  return (
    <div className="sheet p-3 text-lg" data-testid="only-here">
      <p className="font-semibold">The program listens on this machine only: no phone can reach it.</p>
      <p className="mt-1">
        Stop it (Ctrl-C) and start it for the field: <code className="font-bold">./jinba serve --field</code>. Then
        phones that you have paired reach it over the network you share, or over the phone's own hotspot.
      </p>
    </div>
  );
}

type Field = Schemas["FieldView"];

function Serving({ field }: { field: Field }) {
  if (field.asks !== "laptop")
    return (
      <>
        <p className="text-lg">
          Devices are paired and forgotten on the laptop. A helper is let in from the sortie's console.
        </p>
        <Trust field={field} />
      </>
    );
  return (
    <>
      <Pairing field={field} />
      <section className="sheet mt-4 p-3">
        <h2 className="text-xl font-semibold">What vouches for {field.name}</h2>
        <p className="mt-1">
          An authority made on this machine, for this name and private addresses only. A phone asks to trust it: compare
          there (SHA-256).
        </p>
        <p className="mt-1 font-mono text-sm break-all" data-testid="fingerprint">
          {field.fingerprint}
        </p>
        <p className="label-small mt-1">
          Its key is in the folder of your data, readable by you alone, and in no backup. Delete that folder's “field”
          to be rid of it: phones then pair anew, under another name.
        </p>
      </section>
    </>
  );
}

function Pairing({ field }: { field: Field }) {
  const show = useShowCode();
  const devices = usePairedDevices(true, show.data !== undefined);
  const shown = show.data ? show.submittedAt : Number.POSITIVE_INFINITY;
  const came = devices.data?.find((d) => new Date(d.paired_at).getTime() > shown);
  return (
    <>
      <section className="sheet p-3">
        <h2 className="text-xl font-semibold">Pair a phone</h2>
        <p className="mt-1">
          It has to be on the same network as this machine; the phone's own hotspot does, too. At{" "}
          <span className="font-semibold">{field.address}</span> it finds the program wherever that network is.
        </p>
        {field.by_number.length > 0 ? (
          <p className="text-secondary">
            A phone that does not find the name: {field.by_number.join(" or ")}. What it keeps belongs to that address:
            when the address changes it starts anew, so send what it holds first.
          </p>
        ) : (
          <p className="font-semibold text-accent">
            This machine has no address on a private network now: join one, or the phone's hotspot.
          </p>
        )}
        {came ? (
          <p role="status" className="mt-2 text-lg font-semibold" data-testid="came">
            “{came.name}” is paired.
          </p>
        ) : show.data ? (
          <ShownCode code={show.data} words="Point the phone's camera at it, or type:" />
        ) : (
          <button
            type="button"
            className="btn btn-primary mt-2 min-h-11"
            onClick={() => show.mutate(null)}
            disabled={show.isPending}
          >
            Show a code
          </button>
        )}
        {show.data ? (
          <button type="button" className="btn mt-2 min-h-11" onClick={() => show.mutate(null)}>
            {came ? "Pair another" : "Another code"}
          </button>
        ) : null}
        {show.error ? <ProblemNote error={show.error} /> : null}
      </section>
      <section className="mt-4">
        <h2 className="text-xl font-semibold">Let in</h2>
        {devices.isPending ? <Loading words="Looking who is let in…" /> : null}
        {devices.error ? <ProblemNote error={devices.error} onRetry={() => void devices.refetch()} /> : null}
        {devices.data?.length === 0 ? <p>No device yet.</p> : null}
        <ul className="divide-y divide-base-300">
          {devices.data?.map((d) => (
            <Device key={d.id} device={d} />
          ))}
        </ul>
      </section>
    </>
  );
}

function Device({ device }: { device: Schemas["PairedDevice"] }) {
  const forget = useForget();
  const [asked, setAsked] = useState(false);
  return (
    <li className="flex flex-wrap items-center justify-between gap-2 py-2" data-testid="device">
      <span>
        <span className="block text-lg font-semibold">
          {device.name}
          {device.helps ? ", a helper's: one sortie" : ""}
        </span>
        <span className="text-secondary">
          paired {when(new Date(device.paired_at))}, let in until {when(new Date(device.expires_at))}
          {device.seen_at ? `, last here ${when(new Date(device.seen_at))}` : ""}
        </span>
      </span>
      {asked ? (
        <span className="flex flex-wrap gap-2">
          <button
            type="button"
            className="btn btn-error min-h-11"
            onClick={() => forget.mutate(device.id)}
            disabled={forget.isPending}
          >
            Yes, let it in no more
          </button>
          <button type="button" className="btn min-h-11" onClick={() => setAsked(false)}>
            Keep it
          </button>
          <span className="basis-full text-secondary">
            What is only on that device stays there, and is sent when it is paired again.
          </span>
        </span>
      ) : (
        <button type="button" className="btn min-h-11" onClick={() => setAsked(true)}>
          Forget…
        </button>
      )}
      {forget.error ? <ProblemNote error={forget.error} /> : null}
    </li>
  );
}
