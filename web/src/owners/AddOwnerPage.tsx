import { useParams } from "@tanstack/react-router";
import { Refused } from "../actions/ActionFault";
import { useMe } from "../api/useMe";
import { useSitePage } from "../api/useSitePage";
import { SidePanel, Waiting } from "../ui/SidePanel";
import { OfferForm } from "./OfferForm";

/** Asks a person to become an owner of a site, in addition to those it has. */
export function AddOwnerPage() {
  const { site } = useParams({ from: "/books/sites/$site/add-owner" });
  const sitePage = useSitePage(Number(site));
  const me = useMe();
  if (!sitePage.data || !me) return <Waiting title="Add an owner" error={sitePage.error} />;
  const own = sitePage.data.siteOwners.find((holder) => holder.through === null && holder.person.mail === me.mail);
  return (
    <SidePanel
      title={`Add an owner to ${sitePage.data.line.title}`}
      lead={<span className="font-address text-[13px] break-all">{sitePage.data.line.address}</span>}
    >
      {sitePage.data.noHandOver ? (
        <Refused title="Not possible" reasons={[sitePage.data.noHandOver]} />
      ) : (
        <OfferForm adds site={sitePage.data.line.id} currentOwners={own ? [own] : []} isOwn={own !== undefined} />
      )}
    </SidePanel>
  );
}
