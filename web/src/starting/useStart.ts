import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, ok, type Schema } from "../api/client";
import { useSettled } from "../ui/useSettled";

export type NewSite = Schema["NewSiteRequest"];
export type Check = Schema["StartCheck"];
export type Kind = Schema["OfferedKind"];
export type Start = Schema["StartChoices"];
export type FieldName = Schema["StartField"];

export const empty: NewSite = {
  kind: "",
  name: "",
  address: "",
  alias: "",
  unit: null,
  purpose: null,
  classification: null,
  tags: [],
  language: "en",
  description: null,
  contentNotice: null,
  ends: null,
  owners: [],
  editors: [],
  reach: { inside: "named", outside: "no-one", signIn: "account" },
};

export const useStart = () => useQuery({ queryKey: ["start"], queryFn: () => ok(api.GET("/api/start")) });

/** The verdict on what is filled in; the one before stays until the next is there. */
export function useCheck(site: NewSite) {
  const settled = useSettled(site);
  const { data, error, isPlaceholderData } = useQuery({
    queryKey: ["start check", settled],
    queryFn: ({ signal }) => ok(api.POST("/api/start/check", { body: settled, signal })),
    placeholderData: keepPreviousData,
    retry: false,
  });
  return { data, error, isCurrent: data !== undefined && settled === site && !isPlaceholderData };
}

const keptUnder = (mail: string) => `attic-ledger-new-site:${mail}`;

/** What somebody has filled in and not sent, kept in this browser. */
export function kept(mail: string): NewSite | null {
  try {
    const text = localStorage.getItem(keptUnder(mail));
    return text ? { ...empty, ...(JSON.parse(text) as Partial<NewSite>) } : null;
  } catch {
    return null;
  }
}

export function keep(mail: string, site: NewSite | null) {
  try {
    if (site) localStorage.setItem(keptUnder(mail), JSON.stringify(site));
    else localStorage.removeItem(keptUnder(mail));
  } catch {
    // A browser that keeps nothing: the page works without.
  }
}
