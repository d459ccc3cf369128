/**
 * The Idempotency-Key of each request that may change something. It is made with the request and kept until an answer arrives:
 * pressing again after a lost answer sends the same key, so the action is done once. After an answer the next press is a new
 * request.
 */
const open = new Map<string, string>();
const sent = new WeakMap<Request, string>();

const lost = 500;

export async function keyOf(request: Request): Promise<string> {
  const what = await signature(request);
  const key = open.get(what) ?? newKey();
  open.set(what, key);
  sent.set(request, what);
  return key;
}

/** A server that failed may have done it: only an answer below 500 settles the request. */
export function noteAnswer(request: Request, status: number) {
  const what = sent.get(request);
  if (what !== undefined && status < lost) open.delete(what);
}

// Over plain HTTP a browser has no crypto.randomUUID, and signing in has to work there, too.
const newKey = () =>
  Array.from(crypto.getRandomValues(new Uint8Array(16)), (byte) => byte.toString(16).padStart(2, "0")).join("");

// A list or picture is known by its address, which has the fingerprint of its plan, and by its length.
async function signature(request: Request): Promise<string> {
  const isText = request.headers.get("Content-Type")?.startsWith("application/json") ?? false;
  const body = request.clone();
  const content = isText ? await body.text() : (await body.arrayBuffer()).byteLength.toString();
  return `${request.method} ${request.url} ${content}`;
}
