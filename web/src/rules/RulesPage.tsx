import { Link, useSearch } from "@tanstack/react-router";
import { useEffect } from "react";
import type { Schema } from "../api/client";
import { counted, onDate } from "../ui/words";
import { RuleFile } from "./RuleFile";
import { TryRule } from "./TryRule";
import { useRuleBook } from "./useRules";

/** The rule book: each rule with its numbers; or the form in which a rule is tried out and written. */
export function RulesPage() {
  const tried = useSearch({ from: "/books/rules" });
  const book = useRuleBook();
  useEffect(() => {
    document.title = "Rules · Attic Ledger";
  }, []);
  const isWriting = tried.write === true || tried.scope !== undefined || tried.demand !== undefined;
  return (
    <main className="min-h-0 flex-1 overflow-auto px-5 py-4">
      {!book.data ? (
        <>
          <h1 className="text-[21px]">Rules</h1>
          <p role="status" className="text-second">
            {book.error?.message ?? "…"}
          </p>
        </>
      ) : isWriting ? (
        <TryRule
          key={`${tried.scope ?? ""} ${tried.demand ?? ""} ${tried.rule ?? ""}`}
          tried={tried}
          today={book.data.today}
          rules={book.data.rules.filter((rule) => rule.isInForce)}
        />
      ) : (
        <Book book={book.data} />
      )}
    </main>
  );
}

function Book({ book }: { book: Schema["RuleBook"] }) {
  const { rules, switchedOff } = book;
  return (
    <>
      <div className="flex flex-wrap items-baseline gap-x-5">
        <h1 className="text-[21px]">Rules</h1>
        <p role="status" className="text-second">
          {counted(rules.length, "rule")}, counted on the sites that you see.
        </p>
        <Link to="/rules" search={{ write: true }} className="font-semibold underline">
          Try a new rule out
        </Link>
        <Link to="/limits" className="underline">
          Limits of access
        </Link>
      </div>
      {rules.length > 0 && (
        <table className="mt-3 w-full text-[13.5px]">
          <thead>
            <tr className="border-b border-rule-strong text-left text-[12px] text-second">
              <th className="py-1 pr-3 font-semibold">Rule</th>
              <th className="hidden pr-3 font-semibold sm:table-cell">Judges</th>
              <th className="pr-3 text-right font-semibold">Sites in scope</th>
              <th className="pr-3 text-right font-semibold">Break it</th>
              <th className="pr-3 text-right font-semibold">With an exception</th>
              <th className="pr-3 text-right font-semibold">Cannot tell</th>
              <th className="font-semibold">
                <span className="sr-only">Try out</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {rules.map((rule) => (
              <RuleRow key={`${rule.rule.id} ${rule.version}`} rule={rule} />
            ))}
          </tbody>
        </table>
      )}
      {rules.length === 0 && (
        <p className="mt-3">
          There is no rule yet. Try one out to see what it would find; then it can be put in force.
        </p>
      )}
      {switchedOff.length > 0 && (
        <p className="mt-3 text-[13.5px] text-second">
          Switched off:{" "}
          {switchedOff.map(({ id, title }, place) => (
            <span key={id}>
              {place > 0 && ", "}
              <Link to="/rules/$rule" params={{ rule: id }} className="underline">
                {id} {title}
              </Link>
            </span>
          ))}
          .
        </p>
      )}
      <RuleFile />
    </>
  );
}

function RuleRow({ rule }: { rule: Schema["RuleOfBook"] }) {
  const { id, title, level } = rule.rule;
  const found = (filter: string, count: number) =>
    count === 0 ? (
      "0"
    ) : (
      <Link to="/" search={{ filter }} className="underline">
        {count.toLocaleString("en-GB")}
      </Link>
    );
  return (
    <tr className="border-b border-rule align-top">
      <td className="py-2 pr-3">
        <Link to="/rules/$rule" params={{ rule: id }} className="font-semibold underline">
          {title}
        </Link>{" "}
        <span className="whitespace-nowrap text-second">
          {id}, {level}
        </span>
        <span className="block font-address text-[12.5px] [overflow-wrap:anywhere] sm:hidden">
          <Judges rule={rule} />
        </span>
        {rule.fault && <span className="block text-[12.5px] text-madder">Cannot be read: {rule.fault}</span>}
        {!rule.isInForce && (
          <span className="block text-[12.5px] text-ochre">From {onDate(rule.from)}; not in force yet</span>
        )}
      </td>
      <td className="hidden py-2 pr-3 font-address text-[12.5px] break-words sm:table-cell">
        <Judges rule={rule} />
      </td>
      <td className="py-2 pr-3 text-right">{rule.covers.toLocaleString("en-GB")}</td>
      <td className="py-2 pr-3 text-right">{found(`breaks eq "${id}"`, rule.isInForce ? rule.breaks : 0)}</td>
      <td className="py-2 pr-3 text-right">{found(`excepted eq "${id}"`, rule.excepted)}</td>
      <td className="py-2 pr-3 text-right">{found(`unsure eq "${id}"`, rule.isInForce ? rule.cannotTell : 0)}</td>
      <td className="py-2 whitespace-nowrap">
        <Link
          to="/rules"
          search={{
            ...(rule.scope ? { scope: rule.scope } : {}),
            demand: rule.demand,
            ...(rule.isInForce ? { rule: id } : {}),
          }}
          className="underline"
        >
          Vary <span className="sr-only">{id}</span>
        </Link>
      </td>
    </tr>
  );
}

function Judges({ rule }: { rule: Schema["RuleOfBook"] }) {
  return (
    <>
      {rule.scope && <span className="block text-second">{rule.scope}</span>}
      {rule.demand}
    </>
  );
}
