import { useEffect } from "react";
import type { Schemas } from "../../api/client";
import { startWorker, usePage } from "../../offline/worker";

/** How a device comes to trust the program's name, so that its browser keeps the page; what to compare; how to take it back. */
export function Trust({ field }: { field: Schemas["FieldView"] }) {
  const page = usePage();
  useEffect(startWorker, []);
  const trusted = page.kept === "kept";
  return (
    <section className="sheet mt-4 p-3" data-testid="trust" data-kept={page.kept}>
      <h2 className="text-xl font-semibold">
        {trusted ? "This device starts the page without a network" : "Let this device start without a network"}
      </h2>
      {trusted ? (
        <p className="mt-1">Its browser trusts the program's name and keeps the page.</p>
      ) : (
        <>
          <p className="mt-1">
            Until then the page works while it is kept open. A browser keeps a page for good only from a name it trusts,
            and nobody but your own laptop vouches for {field.name}: take its certificate once. It vouches for this one
            name and for addresses of private networks, for nothing else on the internet.
          </p>
          <a className="btn btn-primary mt-2 min-h-11" href="/api/v1/field/authority.crt">
            Take the certificate
          </a>
          <Steps />
        </>
      )}
      <p className="mt-3">
        {trusted ? (
          "What it trusts (SHA-256):"
        ) : (
          <>
            <span className="font-semibold">Compare before you trust it</span> with the terminal on the laptop, or with
            Phones there (SHA-256):
          </>
        )}
      </p>
      <p className="font-mono text-sm break-all" data-testid="fingerprint">
        {field.fingerprint}
      </p>
      {field.authority_until ? (
        <p className="label-small mt-1">
          It holds until {new Date(field.authority_until).toLocaleDateString([], { dateStyle: "long" })}. To take it
          back, remove it in the same settings: the name is not trusted any more, nothing else changes.
        </p>
      ) : null}
    </section>
  );
}

const WAYS: readonly [string, readonly string[]][] = [
  [
    "A phone or tablet that says a profile was downloaded",
    [
      "Settings, General, then VPN and device management: choose the profile named after this program, install it.",
      "Settings, General, About, at the end Certificate trust settings: switch it on.",
      "Close this page and open it again.",
    ],
  ],
  [
    "A phone or tablet that keeps the certificate as a file",
    [
      "Settings: search for “CA certificate”. It lies under Security, then Encryption and credentials, Install a certificate.",
      "CA certificate, install anyway, choose the file that was just kept.",
      "Close this page and open it again.",
    ],
  ],
  [
    "A computer",
    [
      "In the browser's settings search for “certificates”, then Authorities, Import: choose the file.",
      "Let it vouch for web pages. Open this page again.",
    ],
  ],
];

function Steps() {
  return (
    <div className="mt-3 space-y-1">
      {WAYS.map(([title, steps]) => (
        <details key={title} className="border-t border-base-300">
          <summary className="min-h-11 py-2 text-lg font-semibold">{title}</summary>
          <ol className="list-decimal pb-2 pl-6 text-lg">
            {steps.map((s) => (
              <li key={s}>{s}</li>
            ))}
          </ol>
        </details>
      ))}
    </div>
  );
}
