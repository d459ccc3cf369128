import { useState } from "react";
import { ActionFault } from "../actions/ActionFault";
import { useAction } from "../actions/useAction";
import { api, type Schema } from "../api/client";
import { Button } from "../ui/Button";

/** A message to the holder of an address whom one may not see. */
export function AskHolder({ kind, address }: { kind: string; address: string }) {
  const [isOpen, setOpen] = useState(false);
  const [message, setMessage] = useState("");
  const [sentAbout, setSentAbout] = useState("");
  const send = useAction<undefined, Schema["AddressAsked"]>(
    () => api.POST("/api/start/ask-holder", { body: { kind, address, message } }),
    () => {
      setSentAbout(address);
      setOpen(false);
      setMessage("");
    },
  );
  if (sentAbout === address) return <span role="status">Your message was sent. The answer comes by mail.</span>;
  if (!isOpen)
    return (
      <button type="button" className="min-h-6 underline" onClick={() => setOpen(true)}>
        Send the holder a message …
      </button>
    );
  return (
    <div className="mt-1">
      <label className="block font-semibold">
        Message to the holder
        <textarea
          rows={2}
          maxLength={1000}
          value={message}
          onChange={(event) => setMessage(event.target.value)}
          className="mt-1 block w-full rounded-[4px] border border-rule-strong bg-sheet px-2.5 py-2 font-normal"
        />
      </label>
      <p className="text-second">They read your name and mail address with it. You may send one a day.</p>
      <ActionFault error={send.error} />
      <div className="mt-1 flex gap-1.5">
        <Button disabled={send.isPending} onClick={() => send.mutate(undefined)}>
          Send the message
        </Button>
        <Button onClick={() => setOpen(false)}>Cancel</Button>
      </div>
    </div>
  );
}
