import { Notice } from "../ui/Notice";

/** What a person has to look at again before a rule finds most sites. */
export function LookAgain(props: { at: string[]; looked: boolean; onChange: (looked: boolean) => void }) {
  return (
    <Notice>
      {props.at.map((sentence) => (
        <p key={sentence}>{sentence}</p>
      ))}
      <label className="mt-1 flex items-center gap-2 font-semibold">
        <input type="checkbox" checked={props.looked} onChange={(event) => props.onChange(event.target.checked)} />I
        have looked again, and mean it
      </label>
    </Notice>
  );
}
