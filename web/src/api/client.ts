import createClient, { type Middleware } from "openapi-fetch";
import { keyOf, noteAnswer } from "./requestKeys";
import type { components, paths } from "./schema";

export type Schema = components["schemas"];

/** The highest place in the feed that this browser has seen. No later answer may be older. */
let seenPlace = 0;

export function notePlace(place: number) {
  seenPlace = Math.max(seenPlace, place);
}

export const placeSeen = () => seenPlace;

const headers: Middleware = {
  async onRequest({ request }) {
    request.headers.set("X-Attic-Ledger", "1");
    if (request.method !== "GET") request.headers.set("Idempotency-Key", await keyOf(request));
    if (seenPlace > 0) request.headers.set("Register-At", seenPlace.toString());
    return request;
  },
  onResponse({ request, response }) {
    noteAnswer(request, response.status);
    const place = Number(response.headers.get("Register-At"));
    if (place > 0) notePlace(place);
  },
};

/** Every call is as the document has it, without the headers that this client sets itself. */
type Operations<Path> = {
  [Method in keyof Path]: Path[Method] extends { parameters: infer Parameters }
    ? Omit<Path[Method], "parameters"> & { parameters: Omit<Parameters, "header"> & { header?: never } }
    : Path[Method];
};
type Calls = { [Path in keyof paths]: Operations<paths[Path]> };

export const api = createClient<Calls>({ baseUrl: "/" });
api.use(headers);

/** The error, in the words of the server if it gave any. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    title: string,
    readonly body: unknown,
  ) {
    super(title);
  }
}

interface Answer<T> {
  data?: T;
  error?: unknown;
  response: Response;
}

/** The data of a response; throws an error with status and message if it failed. */
export async function ok<T>(answer: Promise<Answer<T>>): Promise<T> {
  const { data, error, response } = await answer;
  if (response.ok) return data as T;
  throw new ApiError(response.status, words(error, response.status), error);
}

function words(error: unknown, status: number): string {
  if (typeof error === "object" && error !== null) {
    const { title, detail, message, reasons } = error as Partial<Schema["Refusal"]> & {
      title?: string;
      detail?: string;
      message?: string;
    };
    const explanation =
      reasons?.map(({ sentence }) => sentence).join(" ") ?? [title ?? message, detail].filter((part) => part).join(" ");
    if (explanation) return explanation;
  }
  return `The server answered ${status}.`;
}
