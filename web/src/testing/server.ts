/**
 * The program at the other end, as a test wants it: set `server.answer` or `served`. Loaded before every test, because the
 * client takes hold of fetch when it is made. Until something is set it is away.
 */
export const server = {
  answer: async (_: Request): Promise<Response> => Promise.reject(new TypeError("Failed to fetch")),
};

const Plain = globalThis.Request;
globalThis.Request = class extends Plain {
  constructor(input: RequestInfo | URL, init?: RequestInit) {
    super(typeof input === "string" && input.startsWith("/") ? `http://127.0.0.1${input}` : input, init);
  }
};
globalThis.fetch = ((request: Request) => server.answer(request)) as typeof fetch;

/** A refusal as the program says it. */
export function refusal(title: string, status = 422): Response {
  return Response.json(
    { type: "x", title, status, code: "c", detail: "", instance: "", violations: [], context: {}, trace_id: "" },
    { status, headers: { "Content-Type": "application/problem+json" } },
  );
}

type Asked = { path: string; body: unknown };
type Answer = unknown | ((body: never) => unknown);

/**
 * Answer by the end of the path: with a value, a Response, or what a function of the body gives; anything else is 404.
 * Returns what was asked, in order.
 */
export function served(answers: Record<string, Answer>): Asked[] {
  const asked: Asked[] = [];
  server.answer = async (request) => {
    const path = new URL(request.url).pathname;
    const text = await request.text();
    const body: unknown = text.startsWith("{") || text.startsWith("[") ? JSON.parse(text) : text;
    asked.push({ path, body });
    const found = Object.entries(answers).find(([end]) => path.endsWith(end));
    if (!found) return refusal(`Nothing is served at ${path}.`, 404);
    const answer = typeof found[1] === "function" ? (found[1] as (body: unknown) => unknown)(body) : found[1];
    return answer instanceof Response ? answer : Response.json(answer);
  };
  return asked;
}
