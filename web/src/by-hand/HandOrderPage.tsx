import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "@tanstack/react-router";
import type { ReactNode } from "react";
import { api, ok, type Wire } from "../api/client";
import { Sheet, Steps, Waiting } from "../ledger/Sheet";
import { onDate } from "../ledger/words";
import { CallBack, Check, HandOn, Say } from "./HandForms";
import { handTitle } from "./useHandOrders";

type HandOrder = Wire["HandOrderWire"];

/** One order that a person carries out: for whoever does it, whoever asked, and whoever looks whether it is so. */
export function HandOrderPage() {
  const { order: id } = useParams({ from: "/books/by-hand/$order" });
  const path = { order: id };
  const found = useQuery({
    queryKey: ["by-hand", id],
    queryFn: () => ok(api.GET("/api/by-hand/{order}", { params: { path } })),
  });
  if (!found.data) return <Waiting title="An order by hand" error={found.error} />;
  const order = found.data;
  const { line } = order;
  return (
    <Sheet
      title={handTitle(line)}
      lead={
        <>
          <span className="font-address text-[13px] break-all">{order.address ?? order.key}</span>, on {line.host}
        </>
      }
    >
      <p role="status" className={line.isOverdue ? "mt-3 font-semibold text-madder" : "mt-3 font-semibold"}>
        {standing(order)}
      </p>
      <Steps
        steps={[
          { step: `asked by ${line.by.name}`, at: order.askedAt },
          { step: `given to ${line.to.name}`, at: order.givenAt },
          { step: "said to be done", at: order.doneAt },
          { step: "seen", at: order.seenAt },
        ]}
      />
      {order.words && (
        <p className="mt-3 border-l-[3px] border-ochre bg-ochre-pale px-2 py-1">
          <bdi>{order.words}</bdi>
        </p>
      )}
      <Part title="What is to be so in the end">
        <ul className="list-disc pl-5">
          {line.wanted.map((sentence) => (
            <li key={sentence}>
              <bdi>{sentence}</bdi>
            </li>
          ))}
        </ul>
        {order.reason && <p className="mt-1 text-second">“{order.reason}”</p>}
      </Part>
      <Part title={`How it is done at ${line.host}`}>
        <ol className="list-decimal space-y-1 pl-5">
          {order.steps.map((step) => (
            <li key={step}>
              <bdi>{step}</bdi>
            </li>
          ))}
        </ol>
        <dl className="mt-3 grid grid-cols-[max-content_1fr] gap-x-4 gap-y-1 text-[14px]">
          <dt className="text-second">Account that can</dt>
          <dd>{order.account || "not written down"}</dd>
          <dt className="text-second">When it does not work</dt>
          <dd>{order.support || "not written down"}</dd>
        </dl>
      </Part>
      {order.proof && (
        <Part title={`What ${order.doneBy?.name ?? "they"} said`}>
          <p className="whitespace-pre-wrap">
            <bdi>“{order.proof}”</bdi>
          </p>
        </Part>
      )}
      {order.hasPicture && (
        <img
          src={`/api/by-hand/${line.order}/picture`}
          alt="What shows that it is done"
          className="mt-3 max-h-[320px] rounded-[4px] border border-rule-strong"
        />
      )}
      {order.mayDo && <Say order={order} />}
      {order.mayCheck && <Check order={order} />}
      {order.noCheck && <p className="mt-4 text-second">{order.noCheck}</p>}
      {(order.mayHandOn || order.mayCallBack) && (
        <div className="mt-6 flex flex-wrap gap-x-2 gap-y-4 border-t border-rule pt-4">
          {order.mayHandOn && <HandOn order={order} />}
          {order.mayCallBack && <CallBack order={order} />}
        </div>
      )}
      <p className="mt-6 flex gap-4">
        {order.site !== null && (
          <Link to="/sites/$site" params={{ site: order.site.toString() }} className="underline">
            To the site
          </Link>
        )}
        <Link to="/yours" className="underline">
          To your sites
        </Link>
      </p>
    </Sheet>
  );
}

function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section className="mt-5">
      <h2 className="text-[17px]">{title}</h2>
      <div className="mt-1">{children}</div>
    </section>
  );
}

function standing({ line, checkedBy }: HandOrder): string {
  switch (line.state) {
    case "sent":
      return line.isOverdue
        ? `Overdue: it was to be done by ${onDate(line.through)}.`
        : `${line.returned > 0 ? "It came back, because it is not so yet. " : ""}To be done by the end of ${onDate(line.through)}.`;
    case "confirmed":
      return "Said to be done. It is seen when the next list shows it, or when a second person looks.";
    case "seen":
      return checkedBy ? `Done, and ${checkedBy.name} saw it.` : "Done, and the list shows it.";
    case "refused":
      return `${line.to.name} says that it cannot be done. Nothing has changed.`;
    case "withdrawn":
      return "Called back. It is no longer to be done.";
    default:
      return `It was ${line.state}.`;
  }
}
