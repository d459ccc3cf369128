import { useState } from "react";
import { ActionFault } from "../actions/ActionFault";
import { useAction } from "../actions/useAction";
import { labels } from "../api/labels";
import { api, type Schema } from "../api/client";
import { Button } from "../ui/Button";
import { Field, Reason } from "../ui/Field";
import { capital, listed, onDate, onDay } from "../ui/words";

type Question = Schema["Question"];
type Answer = Schema["QuestionAnswer"];

const answers: Answer[] = ["fixed", "needs-exception", "not-mine"];

/** An owner answers a question about a finding; a later answer replaces it. */
export function AnswerForm({ question, rule }: { question: Question; rule: string | undefined }) {
  const [answer, setAnswer] = useState<Answer | null>(null);
  const [words, setWords] = useState("");
  const send = useAction(
    (chosen: Answer) =>
      api.POST("/api/questions/{question}/answer", {
        params: { path: { question: question.id } },
        body: { answer: chosen, words: words.trim() === "" ? null : words },
      }),
    () => setAnswer(null),
  );
  if (question.state === "restricted")
    return <p className="mt-1 text-[13px]">{`${question.rule}: ${whatFollows(question, true)}`}</p>;
  return (
    <div className="mt-2 border-l-[6px] border-brass bg-bookmark px-3 py-2">
      <p className="text-[13px]">
        <strong>
          {question.rule} {rule}.
        </strong>{" "}
        {question.answer ? yourAnswer(question) : whatFollows(question, true)}
      </p>
      {answer === null ? (
        <p className="mt-2 flex flex-wrap gap-2" role="group" aria-label={`Answer about ${question.rule}`}>
          {answers.map((one) => (
            <Button key={one} onClick={() => setAnswer(one)}>
              {capital(labels.QuestionAnswer[one])} …
            </Button>
          ))}
        </p>
      ) : (
        <form
          onSubmit={(event) => {
            event.preventDefault();
            send.mutate(answer);
          }}
        >
          <Field
            label={answer === "fixed" ? "What you did (optional)" : "A few words for the administrator"}
            required={answer !== "fixed"}
            maxLength={500}
            value={words}
            onChange={(event) => setWords(event.target.value)}
            hint={
              answer === "fixed"
                ? "The next sync checks it. If it is still found after the last day, the rule goes on."
                : "An administrator decides. Until then nothing is restricted."
            }
          />
          <ActionFault error={send.error} />
          <p className="mt-2 flex flex-wrap gap-2">
            <Button type="submit" look="primary" disabled={send.isPending}>
              Answer: {labels.QuestionAnswer[answer]}
            </Button>
            <Button onClick={() => setAnswer(null)}>Cancel</Button>
          </p>
        </form>
      )}
    </div>
  );
}

/** When the owners were asked, what they answered and what follows; people who may can ask again. */
export function QuestionClock({ question, mayAsk }: { question: Question; mayAsk: boolean }) {
  return (
    <div className="mt-1 text-[13px]">
      <p>{whoWasAsked(question)}</p>
      {mayAsk && canAskAgain(question) && <AskAgain question={question} />}
    </div>
  );
}

/** Whom the product asked, when, and what came of it. */
export const whoWasAsked = (question: Question) =>
  question.asked.length === 0
    ? "No owner was active, so nobody could be asked."
    : `${listed(question.asked.map(({ name }) => name))} ${question.asked.length === 1 ? "was" : "were"} asked on ${onDay(question.askedAt)}. ${question.answer ? theirAnswer(question) : whatFollows(question, false)}`;

const canAskAgain = (question: Question) => question.state !== "asked";

function AskAgain({ question }: { question: Question }) {
  const [reason, setReason] = useState<string | null>(null);
  const ask = useAction(
    () =>
      api.POST("/api/questions/{question}/ask-again", {
        params: { path: { question: question.id } },
        body: { reason },
      }),
    () => setReason(null),
  );
  if (reason === null)
    return (
      <button type="button" className="min-h-6 underline" onClick={() => setReason("")}>
        Ask the owners again … <span className="sr-only">({question.rule})</span>
      </button>
    );
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        ask.mutate();
      }}
    >
      <Reason value={reason} onChange={setReason} />
      <p className="mt-1 text-second">The owners read it in the mail.</p>
      <ActionFault error={ask.error} />
      <div className="mt-2 flex gap-1.5">
        <Button type="submit" look="primary" disabled={ask.isPending}>
          Ask the owners again
        </Button>
        <Button onClick={() => setReason(null)}>Cancel</Button>
      </div>
    </form>
  );
}

/** What follows without an answer, for an owner or for somebody else. */
function whatFollows(question: Question, isOwner: boolean): string {
  const last = `the end of ${onDate(question.through)}`;
  switch (question.state) {
    case "restricted":
      return "Nobody answered, so access was restricted to what policy allows.";
    case "overdue":
      return `Nobody answered until ${last}; an administrator decides.`;
    default:
      return isOwner
        ? `Please fix it, or answer until ${last}.${question.restricts ? " Then access is restricted to what policy allows." : ""}`
        : `They can answer until ${last}; then ${question.restricts ? "access is restricted to what policy allows" : "an administrator decides"}.`;
  }
}

const theirAnswer = (question: Question) =>
  `${question.answeredBy?.name ?? "An owner"} answered${question.answeredAt ? ` on ${onDay(question.answeredAt)}` : ""}: ${question.answer ? labels.QuestionAnswer[question.answer] : ""}${question.words ? ` (“${question.words}”)` : ""}.${question.state === "overdue" ? ` It is still found after ${onDate(question.through)}.` : ""}`;

const yourAnswer = (question: Question) => `${theirAnswer(question)} You can change the answer.`;
