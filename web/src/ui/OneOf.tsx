import clsx from "clsx";

/** A choice of one of a few, shown in a row above the page's content. */
export function OneOf<T extends string>(props: {
  label: string;
  value: T;
  choices: { value: T; words: string }[];
  onChoose: (value: T) => void;
}) {
  return (
    <div role="group" aria-label={props.label} className="mt-4 flex gap-5 border-b border-rule-strong">
      {props.choices.map((choice) => (
        <button
          key={choice.value}
          type="button"
          aria-pressed={choice.value === props.value}
          onClick={() => props.onChoose(choice.value)}
          className={clsx(
            "-mb-px border-b-[3px] px-1 py-1.5",
            choice.value === props.value ? "border-brass font-semibold" : "border-transparent text-second",
          )}
        >
          {choice.words}
        </button>
      ))}
    </div>
  );
}
