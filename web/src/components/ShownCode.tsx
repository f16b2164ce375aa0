import type { Schemas } from "../api/client";
import { when } from "../domain/time";

/** A code that pairs one device: as a picture for its camera, and to type. */
export function ShownCode({ code, words }: { code: Schemas["ShownCode"]; words: string }) {
  return (
    <div className="mt-2 flex flex-wrap items-start gap-4" data-testid="shown-code">
      <img src={code.picture} alt={`The address ${code.address} as a QR code`} className="w-56 bg-white" />
      <div className="min-w-0 flex-1 basis-56">
        <p className="text-lg">{words}</p>
        <p className="mt-1 text-3xl font-bold tracking-wider" data-testid="code">
          {code.code}
        </p>
        <p>
          Typed at <span className="font-semibold break-all">{code.address.split("#")[0]}</span>
        </p>
        <p className="text-secondary">It lets one device in, once, until {when(new Date(code.expires_at))}.</p>
      </div>
    </div>
  );
}
