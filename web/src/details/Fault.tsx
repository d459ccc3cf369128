import { Notice } from "../ui/Notice";

/** Shown instead of all computed facts where a site cannot be computed. */
export function Fault({ why }: { why: string }) {
  return (
    <Notice role="alert" tone="error">
      <p className="font-bold">This site cannot be computed.</p>
      <p className="mt-1 break-words">The server says: {why}</p>
      <p className="mt-1">
        Until that is fixed no action on it is possible, and a sync changes nothing of it. The server&rsquo;s log has
        the details. Other sites are not affected.
      </p>
    </Notice>
  );
}
