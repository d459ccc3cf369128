import { describe, expect, it, vi } from "vitest";
import { keyOf, noteAnswer } from "../../web/src/api/requestKeys";

const request = (body: unknown, url = "http://attic.example/api/sites/12/restrict") =>
  new Request(url, { method: "POST", headers: { "Content-Type": "application/json" }, body: JSON.stringify(body) });

describe("the key of a request", () => {
  it("is made where a page over plain HTTP has no crypto.randomUUID", async () => {
    vi.stubGlobal("crypto", { getRandomValues: (bytes: Uint8Array) => bytes.fill(171) });
    expect(await keyOf(request({ fingerprint: "plain" }))).toBe("ab".repeat(16));
  });

  it("is the same when the button is pressed again after a lost answer", async () => {
    const first = request({ fingerprint: "a" });
    const key = await keyOf(first);
    noteAnswer(first, 503);
    expect(await keyOf(request({ fingerprint: "a" }))).toBe(key);
  });

  it("is another for another plan, another site, and after an answer", async () => {
    const answered = request({ fingerprint: "b" });
    const key = await keyOf(answered);
    expect(await keyOf(request({ fingerprint: "c" }))).not.toBe(key);
    expect(await keyOf(request({ fingerprint: "b" }, "http://attic.example/api/sites/13/restrict"))).not.toBe(key);
    noteAnswer(answered, 200);
    expect(await keyOf(request({ fingerprint: "b" }))).not.toBe(key);
  });
});
