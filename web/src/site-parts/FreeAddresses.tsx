/** Free addresses to choose from. */
export function FreeAddresses(props: { addresses: string[]; onChoose: (address: string) => void }) {
  if (props.addresses.length === 0) return null;
  return (
    <p className="mt-1 flex flex-wrap items-center gap-1.5 text-[13px]" role="group" aria-label="Free addresses">
      <span>Free:</span>
      {props.addresses.map((one) => (
        <button
          key={one}
          type="button"
          className="rounded-[3px] border border-rule-strong bg-sheet px-1.5 py-0.5 font-address hover:bg-bar"
          onClick={() => props.onChoose(one)}
        >
          {one}
        </button>
      ))}
    </p>
  );
}
