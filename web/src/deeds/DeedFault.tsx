import { faultOf } from "./useDeed";

/** Said beside the deed, with what was typed kept. */
export function DeedFault({ error }: { error: Error | null }) {
  if (!error) return null;
  const { isOther, reasons } = faultOf(error);
  if (isOther) {
    return (
      <p role="alert" className="mt-2 border-l-[3px] border-ochre bg-ochre-pale px-2 py-1 text-[13px]">
        Something has changed since you looked, so nothing was done. This is what it comes to now; what you typed is
        kept.
      </p>
    );
  }
  return (
    <div role="alert" className="mt-2 text-[13px] text-madder">
      {reasons.map((reason) => (
        <p key={reason}>
          <bdi>{reason}</bdi>
        </p>
      ))}
    </div>
  );
}

/** Every reason why a deed cannot be done now, in the order to solve them. */
export function Refused({ reasons, title }: { reasons: string[]; title: string }) {
  if (reasons.length === 0) return null;
  return (
    <section className="mt-4 border-l-[3px] border-madder pl-3">
      <h2 className="font-text text-[14.5px] font-bold">{title}</h2>
      <ol className={reasons.length > 1 ? "mt-1 list-decimal space-y-1 pl-5" : "mt-1"}>
        {reasons.map((reason) => (
          <li key={reason}>
            <bdi>{reason}</bdi>
          </li>
        ))}
      </ol>
    </section>
  );
}
