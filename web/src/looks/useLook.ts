import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, ok, type Schema } from "../api/client";
import { useSettled } from "../ui/useSettled";

export type SiteLook = Schema["SiteLook"];
export type WantedLogo = Schema["WantedLogoRequest"];
export type LookChange = Schema["LookPlanRequest"];
export type AddressChange = Schema["AddressPlanRequest"];

/** How a site presents itself, and which pages link to it. */
export const useSiteLook = (site: number) =>
  useQuery({
    queryKey: ["look", site],
    queryFn: () => ok(api.GET("/api/sites/{site}/look", { params: { path: { site } } })),
  });

/** The plan of what is filled in, without its comment; the one before stays until the next is there. */
export function useLookPlan(site: number, body: LookChange, isChanged: boolean) {
  const settled = useSettled(body);
  return usePlan(["look plan", site, settled], isChanged, () =>
    api.POST("/api/sites/{site}/look/plan", { params: { path: { site } }, body: settled }),
  );
}

export function useAddressPlan(site: number, body: AddressChange, isChanged: boolean) {
  const settled = useSettled(body);
  return usePlan(["address plan", site, settled], isChanged, () =>
    api.POST("/api/sites/{site}/address/plan", { params: { path: { site } }, body: settled }),
  );
}

function usePlan(queryKey: unknown[], enabled: boolean, ask: () => Parameters<typeof ok<Schema["Preview"]>>[0]) {
  const plan = useQuery({
    queryKey,
    queryFn: () => ok(ask()),
    enabled,
    placeholderData: keepPreviousData,
    retry: false,
  });
  return {
    ...plan,
    planned: enabled ? (plan.data?.plan ?? null) : null,
    refused: enabled ? (plan.data?.refused ?? []) : [],
  };
}

/** The verdict on an address while it is typed; the one before stays until the next is there. */
export function useAddressCheck(site: number, own: string) {
  const settled = useSettled(own);
  const { data, error, isPlaceholderData } = useQuery({
    queryKey: ["address check", site, settled],
    queryFn: ({ signal }) =>
      ok(api.POST("/api/sites/{site}/address/check", { params: { path: { site } }, body: { own: settled }, signal })),
    placeholderData: keepPreviousData,
    retry: false,
  });
  return { data, error, isCurrent: data !== undefined && settled === own && !isPlaceholderData };
}

/** Sites at a host with a logo of their own whose name has a text. */
export function useLenders(host: string, text: string) {
  const settled = useSettled(text.trim());
  return useQuery({
    queryKey: ["lenders", host, settled],
    queryFn: () =>
      ok(
        api.GET("/api/register", {
          params: {
            query: {
              filter: `host eq ${JSON.stringify(host)} and logo eq "kept-with-site" and title co ${JSON.stringify(settled)}`,
              limit: 8,
            },
          },
        }),
      ),
    enabled: settled.length >= 2,
    placeholderData: keepPreviousData,
  });
}
