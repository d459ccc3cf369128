import { QueryClient, QueryClientProvider, useQuery } from "@tanstack/react-query";
import { act, render } from "@testing-library/react";
import { afterEach, expect, it, vi } from "vitest";
import { useFeed } from "../../web/src/api/useFeed";

afterEach(() => vi.useRealTimers());

function Screen({ asked }: { asked: Record<string, number> }) {
  useFeed();
  const count = (name: string) => () => (asked[name] = (asked[name] ?? 0) + 1);
  useQuery({ queryKey: ["register", {}, 0], queryFn: count("register") });
  useQuery({ queryKey: ["site", 999], queryFn: count("another site") });
  useQuery({ queryKey: ["accounts"], queryFn: count("accounts") });
  return null;
}

it("asks again at most once a second, and only for what is shown and touched, however many pages a sync has", async () => {
  vi.useFakeTimers();
  let send: ((data: object) => void) | undefined;
  vi.stubGlobal(
    "EventSource",
    class {
      set onmessage(listener: (message: { data: string }) => void) {
        send = (data) => listener({ data: JSON.stringify(data) });
      }
      close() {}
    },
  );
  const asked: Record<string, number> = {};
  const queries = new QueryClient();
  // Was shown before and is not shown now.
  await queries.prefetchQuery({ queryKey: ["desk"], queryFn: () => (asked.desk = (asked.desk ?? 0) + 1) });
  const page = render(
    <QueryClientProvider client={queries}>
      <Screen asked={asked} />
    </QueryClientProvider>,
  );
  await act(() => vi.advanceTimersByTimeAsync(100));
  expect(asked).toEqual({ desk: 1, register: 1, "another site": 1, accounts: 1 });

  // A hundred pages of a sync in ten seconds.
  for (let place = 1; place <= 100; place++) {
    send?.({ place, sites: [place], topics: ["sources"] });
    await act(() => vi.advanceTimersByTimeAsync(100));
  }
  await act(() => vi.advanceTimersByTimeAsync(2000));
  expect(asked.register).toBeGreaterThanOrEqual(10);
  expect(asked.register).toBeLessThanOrEqual(1 + 11);
  expect(asked).toMatchObject({ desk: 1, "another site": 1, accounts: 1 });
  page.unmount();
});
