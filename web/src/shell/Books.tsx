import { useQuery } from "@tanstack/react-query";
import { Outlet } from "@tanstack/react-router";
import { meQuery } from "../api/useMe";
import { useFeed } from "../api/useFeed";
import { Cover } from "./Cover";

/** The frame of every page after sign-in: the navigation above, the open page below. */
export function Books() {
  const me = useQuery(meQuery);
  if (me.data) return <Open me={me.data} />;
  return (
    <main className="p-8 text-second">
      <h1 className="sr-only">Attic Ledger</h1>
      <p role="status">{me.error ? me.error.message : "Loading …"}</p>
    </main>
  );
}

function Open({ me }: { me: Parameters<typeof Cover>[0]["me"] }) {
  useFeed();
  return (
    <div className="flex h-full flex-col print:block print:h-auto">
      <Cover me={me} />
      <Outlet />
    </div>
  );
}
