import { Link } from "@tanstack/react-router";
import type { ReactNode } from "react";
import { underTitle } from "./underTitle";

interface Props {
  site: number;
  title: string;
  address: string | null;
  /** Shown after the name. */
  note?: ReactNode;
}

/** A site in a table: its name as a link to its page, above its address. */
export function SiteName({ site, title, address, note }: Props) {
  return (
    <>
      <Link
        to="/sites/$site"
        params={{ site: site.toString() }}
        className="block truncate font-semibold hover:underline"
      >
        <bdi>{title}</bdi>
        {note}
      </Link>
      <span className="block truncate font-address text-[12.5px] text-second">{underTitle({ title, address })}</span>
    </>
  );
}
