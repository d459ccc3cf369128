import { Link } from "@tanstack/react-router";
import { SidePanel } from "../ui/SidePanel";

/** What an action for the selected sites shows while none is selected. */
export function NoSelection({ title }: { title: string }) {
  return (
    <SidePanel title={title}>
      <p className="mt-4">
        No site is selected. A reload clears the selection. Select sites in the{" "}
        <Link to="/" className="underline">
          register
        </Link>{" "}
        first.
      </p>
    </SidePanel>
  );
}
