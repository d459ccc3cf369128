import { useState, type ReactNode } from "react";
import { api, type Wire } from "../api/client";
import { DeedFault } from "../deeds/DeedFault";
import { Button } from "../ledger/Button";
import { Field, fileLook, LongField } from "../ledger/Field";
import { useHandStep } from "./useHandOrders";

type HandOrder = Wire["HandOrderWire"];

const pathOf = (order: HandOrder) => ({ path: { order: order.line.order } });

/** Whoever has it says that it is done, with something to show, or that it cannot be done. */
export function Say({ order }: { order: HandOrder }) {
  const [words, setWords] = useState("");
  const params = pathOf(order);
  const done = useHandStep(() => api.POST("/api/by-hand/{order}/done", { params, body: { proof: words || null } }));
  const cannot = useHandStep(() => api.POST("/api/by-hand/{order}/cannot", { params, body: { words: words || null } }));
  const picture = useHandStep((file: File) =>
    api.PUT("/api/by-hand/{order}/picture", {
      params,
      body: file as unknown as string,
      bodySerializer: (body: unknown) => body as File,
      headers: { "Content-Type": file.type },
    }),
  );
  return (
    <section className="mt-6 border-l-[6px] border-brass bg-bookmark px-4 py-3" aria-label="When you are through">
      <h2 className="text-[17px]">When you are through</h2>
      <LongField
        label="What you did, and how it can be seen"
        value={words}
        maxLength={2000}
        onChange={(event) => setWords(event.target.value)}
        hint="Or why it cannot be done. It stands in the journal, and whoever asked reads it."
      />
      <label className="mt-3 block font-semibold">
        A picture of it (if you like)
        <input
          type="file"
          accept="image/png,image/jpeg"
          className={fileLook}
          onChange={(event) => {
            const file = event.target.files?.[0];
            if (file) picture.mutate(file);
          }}
        />
      </label>
      <DeedFault error={done.error ?? cannot.error ?? picture.error} />
      <div className="mt-3 flex flex-wrap gap-2">
        <Button look="deed" className="py-2" disabled={done.isPending} onClick={() => done.mutate(undefined)}>
          It is done
        </Button>
        <Button className="py-2" disabled={cannot.isPending} onClick={() => cannot.mutate(undefined)}>
          It cannot be done
        </Button>
      </div>
    </section>
  );
}

/** A second person looks at the host and says what they see. */
export function Check({ order }: { order: HandOrder }) {
  const [words, setWords] = useState("");
  const check = useHandStep((isSo: boolean) =>
    api.POST("/api/by-hand/{order}/check", { params: pathOf(order), body: { isSo, words: words || null } }),
  );
  return (
    <section className="mt-6 border-l-[3px] border-slate pl-3" aria-label="Look whether it is so">
      <h2 className="text-[17px]">Look whether it is so</h2>
      <p className="mt-1">Open the site at {order.line.host} and see for yourself; nobody else has confirmed it yet.</p>
      <Field
        label="What you found (needed where it is not so)"
        value={words}
        maxLength={2000}
        onChange={(event) => setWords(event.target.value)}
      />
      <DeedFault error={check.error} />
      <div className="mt-3 flex flex-wrap gap-2">
        <Button look="deed" className="py-2" disabled={check.isPending} onClick={() => check.mutate(true)}>
          I looked: it is so
        </Button>
        <Button className="py-2" disabled={check.isPending} onClick={() => check.mutate(false)}>
          It is not so: give it back
        </Button>
      </div>
    </section>
  );
}

export function HandOn({ order }: { order: HandOrder }) {
  const [to, setTo] = useState("");
  const step = useHandStep(
    () => api.POST("/api/by-hand/{order}/hand-on", { params: pathOf(order), body: { to } }),
    () => setTo(""),
  );
  return (
    <Unfolded label="Hand on …" error={step.error}>
      <Field
        label="To whom"
        type="email"
        placeholder="a mail address"
        value={to}
        onChange={(event) => setTo(event.target.value)}
        hint="They get as many days for it as the first had."
      />
      <Button className="mt-2" disabled={to.trim() === "" || step.isPending} onClick={() => step.mutate(undefined)}>
        Hand it on
      </Button>
    </Unfolded>
  );
}

export function CallBack({ order }: { order: HandOrder }) {
  const [words, setWords] = useState("");
  const step = useHandStep(() =>
    api.POST("/api/by-hand/{order}/call-back", { params: pathOf(order), body: { words: words || null } }),
  );
  return (
    <Unfolded label="Call back …" error={step.error}>
      <Field
        label={`What ${order.line.to.name} is to know (if you like)`}
        value={words}
        maxLength={2000}
        onChange={(event) => setWords(event.target.value)}
      />
      <Button className="mt-2" disabled={step.isPending} onClick={() => step.mutate(undefined)}>
        Call it back: it is no longer to be done
      </Button>
    </Unfolded>
  );
}

function Unfolded({ label, error, children }: { label: string; error: Error | null; children: ReactNode }) {
  const [isOpen, setOpen] = useState(false);
  return (
    <div className={isOpen ? "w-full" : ""}>
      <Button aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
        {label}
      </Button>
      {isOpen && children}
      {isOpen && <DeedFault error={error} />}
    </div>
  );
}
