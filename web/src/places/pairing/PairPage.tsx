import { useEffect, useState } from "react";
import { Link, useNavigate } from "react-router";
import { OnDevice } from "../../components/OnDevice";
import { Loading, ProblemNote } from "../../components/ui/feedback";
import { when } from "../../domain/time";
import { useField, usePair } from "../../queries/pairing";
import { Trust } from "./Trust";

/** Pair this device by the code that the laptop shows; then let its browser keep the page. */
export default function PairPage() {
  const field = useField();
  if (field.isPending) return <Loading words="Asking the program…" />;
  return (
    <main className="mx-auto max-w-xl p-4">
      <OnDevice />
      {field.data ? null : <ProblemNote error={field.error} onRetry={() => void field.refetch()} />}
      {field.data?.asks === "laptop" ? (
        <h1 className="text-lg">
          This is the program's own machine: nothing has to be paired.{" "}
          <Link className="underline" to="/phones">
            Pair a phone
          </Link>
        </h1>
      ) : null}
      {field.data?.asks === "nobody" ? <Code /> : null}
      {field.data?.device ? <Paired field={field.data} device={field.data.device} /> : null}
    </main>
  );
}

/** The code of the address that was scanned: behind the #, which no browser sends anywhere. */
function scanned(): string {
  return decodeURIComponent(location.hash.slice(1)).slice(0, 20);
}

function Code() {
  const pair = usePair();
  const navigate = useNavigate();
  const [code, setCode] = useState(scanned);
  useEffect(() => {
    // Another code scanned while the page is open changes nothing but what stands behind the #.
    const again = () => setCode(scanned());
    window.addEventListener("hashchange", again);
    return () => window.removeEventListener("hashchange", again);
  }, []);
  const [name, setName] = useState(matchMedia("(pointer: coarse)").matches ? "phone" : "computer");
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        pair.mutate(
          { code, name },
          {
            onSuccess: (field) => {
              // The code is used up: it is not left in the address.
              void navigate(field.asks === "helper" ? "/help" : "/pair", { replace: true });
            },
          },
        );
      }}
    >
      <h1 className="mb-1 text-2xl font-bold">Pair this device</h1>
      <p className="mb-3 text-lg">
        It is not let in yet. On the laptop the program shows a code, in its terminal and under Phones; the pilot shows
        one to a helper. What is on this device already stays here.
      </p>
      <label className="block text-lg font-semibold">
        Code
        <input
          className="input mt-1 h-14 w-full text-2xl tracking-wider uppercase"
          value={code}
          onChange={(e) => setCode(e.target.value)}
          autoCapitalize="characters"
          autoComplete="off"
          spellCheck={false}
          maxLength={20}
          required
        />
      </label>
      <label className="mt-3 block text-lg font-semibold">
        What this device is called
        <input
          className="input mt-1 h-14 w-full text-xl"
          value={name}
          onChange={(e) => setName(e.target.value)}
          maxLength={80}
        />
      </label>
      {pair.error ? <ProblemNote error={pair.error} /> : null}
      <button
        type="submit"
        className="field-choice mt-3 w-full bg-accent text-accent-content"
        disabled={pair.isPending}
      >
        {pair.isPending ? "Pairing…" : "Pair it"}
      </button>
    </form>
  );
}

type Field = NonNullable<ReturnType<typeof useField>["data"]>;

function Paired({ field, device }: { field: Field; device: NonNullable<Field["device"]> }) {
  return (
    <>
      <h1 className="mb-1 text-2xl font-bold">This device is paired</h1>
      <p className="mb-3 text-lg">
        As “{device.name}”, until {when(new Date(device.expires_at))}.{" "}
        {device.helps ? "It logs one sortie." : "It may do all that the laptop may, except let others in."}
      </p>
      <Link className="field-choice flex items-center justify-center" to={device.helps ? "/help" : "/"}>
        {device.helps ? "To the sortie" : "To the shelf"}
      </Link>
      <Trust field={field} />
    </>
  );
}
