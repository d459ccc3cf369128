/** The line under a site's title: its address, or what it lacks. A site without a name has its address as the title. */
export const underTitle = ({ title, address }: { title: string; address: string | null }) =>
  address === null ? "no address" : address === title ? "no name" : address;
