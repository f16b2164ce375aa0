import { Component, type ReactNode } from "react";

interface Props {
  children: ReactNode;
}

interface State {
  error: unknown;
}

/** Catches what a page throws, a part of the program that could not be fetched included: a page with words, never an empty one. */
export class Guard extends Component<Props, State> {
  override state: State = { error: null };

  static getDerivedStateFromError(error: unknown): State {
    return { error };
  }

  override render(): ReactNode {
    if (this.state.error === null) return this.props.children;
    const missing = isMissingPart(this.state.error);
    return (
      <main className="mx-auto max-w-xl p-6" role="alert">
        <h1 className="mb-3 text-2xl font-bold">
          {missing ? "A part of the program could not be fetched." : "This page could not be shown."}
        </h1>
        <p className="mb-4 text-lg">
          {missing
            ? "The program is not running, or it was brought up to date meanwhile. Start it if it is not running, then load the page again."
            : "Something in the page went wrong. Load it again; if it comes back, go to the shelf and open the model from there."}
        </p>
        <p className="mb-4 text-lg font-semibold">
          What you logged is kept: it is sent as soon as the program answers again.
        </p>
        <div className="flex flex-wrap gap-2">
          <button type="button" className="btn btn-accent min-h-14 text-lg" onClick={() => location.reload()}>
            Load the page again
          </button>
          <a className="btn min-h-14 text-lg" href="/?shelf">
            To the shelf
          </a>
        </div>
      </main>
    );
  }
}

function isMissingPart(error: unknown): boolean {
  return error instanceof Error && /dynamically imported module|module script failed|preload/i.test(error.message);
}
