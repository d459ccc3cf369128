import { Link } from "@tanstack/react-router";
import type { Schema } from "../api/client";
import { counted, onDate } from "../ui/words";

/** Who uses the address of a site: pages of other sites that link to it, visitors, and addresses that forward to it. */
export function AddressImpact({ impact, isNew }: { impact: Schema["AddressImpact"]; isNew: boolean }) {
  const { links, hiddenLinking, unread, visits, forwardThrough, former, swapWith } = impact;
  const breaks = isNew && forwardThrough === null && swapWith === null;
  return (
    <>
      <li className={breaks && links.length + hiddenLinking > 0 ? "font-semibold text-madder" : ""}>
        {links.length + hiddenLinking === 0
          ? "No page of another site that was read links to it."
          : `Pages of ${counted(links.length + hiddenLinking, "other site")} link to it:`}
        {links.length > 0 && (
          <ul className="font-normal text-ink">
            {links.map((site) => (
              <li key={site.id}>
                <Link to="/sites/$site" params={{ site: site.id.toString() }} className="underline">
                  <bdi>{site.title}</bdi>
                </Link>
                , {counted(site.pages, "page")}
              </li>
            ))}
          </ul>
        )}
        {hiddenLinking > 0 && links.length > 0 && (
          <span className="font-normal text-ink">and {counted(hiddenLinking, "site")} outside your scope</span>
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
          <span className="font-address text-[13px] break-all">{address}</span>{" "}
          {isNew ? "forwards to the new address" : "forwards to it"} until the end of {onDate(through)}.
        </li>
      ))}
      {isNew && forwardThrough !== null && (
        <li>The old address forwards to the new one until the end of {onDate(forwardThrough)}.</li>
      )}
      {swapWith !== null && (
        <li>
          <bdi>{swapWith}</bdi> gets the old address: links to either site lead to the other one from then on.
        </li>
      )}
    </>
  );
}
