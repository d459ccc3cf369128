import { keepPreviousData, useMutation, useQuery } from "@tanstack/react-query";
import { Popover } from "radix-ui";
import { useState, type ReactNode } from "react";
import { api, ok, type Schema } from "../api/client";
import { AttributeChoice } from "../register/AttributeChoice";
import { readClause, type Clause } from "../register/clause";
import { ClauseForm } from "../register/ClauseForm";
import { useAttributes } from "../register/Sentence";
import { popoverLook } from "../ui/popoverLook";
import { partLook } from "../ui/SentencePart";
import { faultOf } from "./faultOf";

const buttons = { set: "Set the condition", remove: "Remove the condition" };

const read = (expression: string, place: number | null = null, clause: string | null = null) =>
  ok(api.POST("/api/rules/sentence", { body: { expression, place, clause } }));

/** An expression as a sentence of parts; what is changed here is written into the expression, and the other way round. */
export function RuleSentence(props: { label: string; text: string; onChange: (text: string) => void }) {
  const { label, text, onChange } = props;
  const attributes = (useAttributes().data ?? []).filter((one) => one.inRules);
  const expression = text.trim();
  const sentence = useQuery({
    queryKey: ["rule sentence", expression],
    queryFn: () => read(expression),
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    retry: false,
  });
  const parts = sentence.data?.parts ?? [];
  const change = useMutation({
    mutationFn: (to: { place: number; clause: string | undefined }) => read(expression, to.place, to.clause ?? null),
    onSuccess: (next) => onChange(next.expression),
  });
  if (sentence.isError)
    return <p className="mt-1 text-[13px] text-second">In words as soon as the expression can be read.</p>;
  return (
    <ul aria-label={label} className="mt-1 flex flex-wrap items-center gap-x-1.5 gap-y-1 text-[14px]">
      {parts.map((part, place) => (
        <li key={`${place} ${part.text}`}>
          {place > 0 && <span className="mr-1.5 text-second">and</span>}
          <Part part={part} attributes={attributes} onDone={(clause) => change.mutate({ place, clause })} />
        </li>
      ))}
      <li>
        <Opening label="Add a condition" look="dashed" words="add a condition …">
          {(close) => (
            <NewPart
              attributes={attributes}
              onDone={(clause) => {
                close();
                if (clause !== undefined) change.mutate({ place: parts.length, clause });
              }}
            />
          )}
        </Opening>
      </li>
      {change.error && (
        <li role="alert" className="w-full text-[13px] text-madder">
          The condition was not set: {faultOf(change.error)?.message ?? change.error.message}.
        </li>
      )}
    </ul>
  );
}

function Part(props: {
  part: Schema["RuleSentencePart"];
  attributes: Schema["Attribute"][];
  onDone: (clause: string | undefined) => void;
}) {
  const { part, attributes, onDone } = props;
  const clause: Clause | null = part.clause === null ? null : readClause(part.clause);
  const attribute = attributes.find((one) => one.name === clause?.attribute);
  if (!clause || !attribute) return <span className="font-address text-[13px]">{part.text}</span>;
  return (
    <Opening label={`Condition: ${part.words}`} look="set" words={part.words}>
      {(close) => (
        <ClauseForm
          attribute={attribute}
          clause={clause}
          place={0}
          search={{}}
          isNew={false}
          does={buttons}
          onDone={(next) => {
            close();
            onDone(next);
          }}
        />
      )}
    </Opening>
  );
}

function NewPart(props: { attributes: Schema["Attribute"][]; onDone: (clause: string | undefined) => void }) {
  const [attribute, setAttribute] = useState<Schema["Attribute"]>();
  return attribute ? (
    <ClauseForm
      attribute={attribute}
      clause={{ attribute: attribute.name, how: "", values: [] }}
      place={0}
      search={{}}
      isNew
      does={buttons}
      onDone={props.onDone}
    />
  ) : (
    <div className="w-[380px]">
      <AttributeChoice attributes={props.attributes} onChoose={setAttribute} />
    </div>
  );
}

function Opening(props: {
  label: string;
  look: "set" | "dashed";
  words: ReactNode;
  children: (close: () => void) => ReactNode;
}) {
  const [open, setOpen] = useState(false);
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger aria-label={props.label} className={partLook(props.look === "set")}>
        {props.words}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={6}
          collisionPadding={8}
          aria-label={props.label}
          className={popoverLook}
        >
          {props.children(() => setOpen(false))}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
