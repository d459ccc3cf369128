import { QueryClient, QueryClientProvider, useQuery } from "@tanstack/react-query";
import { act, render, waitFor } from "@testing-library/react";
import { afterEach, expect, it, vi } from "vitest";
import { ApiError } from "../../web/src/api/client";
import { LedgerQueryClient } from "../../web/src/api/ledgerQueryClient";
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

it("does not ask again for what was refused, whatever else an action changes", async () => {
  const asked: Record<string, number> = {};
  const ask = (what: string, status?: number) => async () => {
    asked[what] = (asked[what] ?? 0) + 1;
    if (status) throw new ApiError(status, "No.", null);
    return what;
  };
  const queries = new LedgerQueryClient({ defaultOptions: { queries: { retry: false } } });
  const Asking = () => {
    useQuery({ queryKey: ["accounts"], queryFn: ask("accounts", 403) });
    useQuery({ queryKey: ["desk"], queryFn: ask("desk", 500) });
    useQuery({ queryKey: ["register"], queryFn: ask("register") });
    return null;
  };
  const page = render(
    <QueryClientProvider client={queries}>
      <Asking />
    </QueryClientProvider>,
  );
  await waitFor(() => expect(asked).toEqual({ accounts: 1, desk: 1, register: 1 }));
  await act(() => queries.invalidateQueries());
  expect(asked).toEqual({ accounts: 1, desk: 2, register: 2 });
  await act(() => queries.invalidateQueries({ queryKey: ["accounts"] }));
  expect(asked.accounts).toBe(2);
  page.unmount();
});

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
