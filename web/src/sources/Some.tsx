import { Part } from "./Part";

const MOST = 20;

/** The first of a list, and how many more there are. */
export function Some(props: { title: string; items: string[]; all?: number; isBad?: boolean }) {
  const all = props.all ?? props.items.length;
  if (all === 0) return null;
  const shown = props.items.slice(0, MOST);
  return (
    <Part title={`${props.title} (${all.toLocaleString("en-GB")})`} {...(props.isBad ? { isBad: true } : {})}>
      {shown.map((item) => (
        <li key={item}>
          <bdi>{item}</bdi>
        </li>
      ))}
      {all > shown.length && <li>{(all - shown.length).toLocaleString("en-GB")} more</li>}
    </Part>
  );
}
