import { Link } from "@tanstack/react-router";
import type { Schema } from "../api/client";
import { counted, onDate } from "../ui/words";

type Impact = Schema["AddressImpact"];

/** Who uses the address that a site has: pages of other sites that link to it, visitors, and addresses that forward to it. */
export function AddressUse({ impact }: { impact: Impact }) {
  const { links, hiddenLinking, unread, visits, former } = impact;
  const linking = links.length + hiddenLinking;
  return (
    <ul className="mt-1 list-disc space-y-1 pl-4 text-[13px] marker:text-rule-strong">
      <li>
        {linking === 0
          ? "No page of another site that was read links to it."
          : `Pages of ${counted(linking, "other site")} link to it${links.length === 0 ? ", outside your scope." : ":"}`}
        {links.length > 0 && (
          <ul>
            {links.map((site) => (
              <li key={site.id}>
                <Link to="/sites/$site" params={{ site: site.id.toString() }} className="underline">
                  <bdi>{site.title}</bdi>
                </Link>
                , {counted(site.pages, "page")}
              </li>
            ))}
            {hiddenLinking > 0 && <li>and {counted(hiddenLinking, "site")} outside your scope</li>}
          </ul>
        )}
      </li>
      {unread > 0 && (
        <li className="text-ochre">
          The pages of {counted(unread, "site")} cannot be read, so links on them are not known.
        </li>
      )}
      <li>
        {visits === null
          ? "How many visitors it has is not measured."
          : `${counted(visits, "visit")} in the last seven days.`}
      </li>
      {former.map(({ address, through }) => (
        <li key={address}>
          <span className="font-address text-[13px] break-all">{address}</span> forwards to it until the end of{" "}
          {onDate(through)}.
        </li>
      ))}
    </ul>
  );
}

/** What a changed address means for those who use the old one, in a plan. */
export function AddressImpact({ impact }: { impact: Impact }) {
  const { links, hiddenLinking, forwardThrough, former, swapWith } = impact;
  const linking = links.length + hiddenLinking;
  return (
    <>
      {forwardThrough !== null ? (
        <li>
          The old address forwards to the new one until the end of {onDate(forwardThrough)}
          {linking > 0 && `; links on the pages of ${counted(linking, "other site")} break after that`}.
        </li>
      ) : (
        linking > 0 && (
          <li className="font-semibold text-madder">
            Links on the pages of {counted(linking, "other site")}{" "}
            {swapWith === null ? "break." : "lead to the other site from then on."}
          </li>
        )
      )}
      {former.map(({ address, through }) => (
        <li key={address}>
          <span className="font-address text-[13px] break-all">{address}</span> forwards to the new address until the
          end of {onDate(through)}.
        </li>
      ))}
      {swapWith !== null && (
        <li>
          <bdi>{swapWith}</bdi> gets the old address.
        </li>
      )}
    </>
  );
}
