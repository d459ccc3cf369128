import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { createMemoryHistory, createRootRoute, createRouter, RouterProvider } from "@tanstack/react-router";
import { render } from "@testing-library/react";
import type { ReactNode } from "react";
import { vi } from "vitest";

/** What the server answers, by method and path; a function is asked each time. */
export type Answers = Record<string, unknown>;

export interface Sent {
  call: string;
  /** Where there is one. */
  query?: Record<string, string>;
  body: unknown;
}

export class Problem {
  constructor(
    readonly status: number,
    readonly body: unknown,
  ) {}
}

/** Opens the whole application at an address, with a server that answers as told. Returns what was sent to it. */
export async function openAt(path: string, answers: Answers, me: Record<string, unknown> = {}): Promise<Sent[]> {
  const sent = answering({
    "GET /api/session": {
      name: "Nora Bell",
      mail: "n.bell@merrowby.example",
      role: "administrator",
      part: null,
      mayAct: true,
      isDemo: false,
      ...me,
    },
    ...answers,
  });
  const { makeRouter } = await import("../../web/src/routes");
  const router = makeRouter(createMemoryHistory({ initialEntries: [path] }));
  show(<RouterProvider router={router} />);
  return sent;
}

/** Puts a part with links on the screen: it appears once the router is ready. */
export function showWithLinks(part: ReactNode) {
  const routeTree = createRootRoute({ component: () => part });
  show(<RouterProvider router={createRouter({ routeTree, history: createMemoryHistory() })} />);
}

/** Puts a part on the screen that asks a server. */
export function show(part: ReactNode) {
  render(
    <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
      {part}
    </QueryClientProvider>,
  );
}

/** A server that answers as told, for modules that are imported after it. Returns what is sent to it. */
export function answering(all: Answers): Sent[] {
  const sent: Sent[] = [];
  // Node's own requests know no page that an address could be relative to.
  const Whole = Request;
  vi.stubGlobal(
    "Request",
    class extends Whole {
      constructor(input: RequestInfo | URL, init?: RequestInit) {
        super(typeof input === "string" ? new URL(input, "http://ledger.test") : input, init);
      }
    },
  );
  vi.stubGlobal(
    "EventSource",
    class {
      close() {}
    },
  );
  vi.stubGlobal("fetch", async (request: Request) => {
    const url = new URL(request.url);
    const call = `${request.method} ${url.pathname}`;
    const text = await request.text();
    const isJson = request.headers.get("Content-Type")?.startsWith("application/json");
    sent.push({
      call,
      ...(url.search ? { query: Object.fromEntries(url.searchParams) } : {}),
      body: text ? (isJson ? JSON.parse(text) : text) : null,
    });
    const said = all[call];
    const answer = typeof said === "function" ? (said as () => unknown)() : said;
    if (answer === undefined) return new Response("{}", { status: 404 });
    if (answer instanceof Problem) return json(answer.body, answer.status);
    return answer === null ? new Response(null, { status: 204 }) : json(answer, 200);
  });
  vi.resetModules();
  return sent;
}

const json = (body: unknown, status: number) =>
  new Response(JSON.stringify(body), { status, headers: { "content-type": "application/json" } });
