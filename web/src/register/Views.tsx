import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "@tanstack/react-router";
import { Popover } from "radix-ui";
import { useState } from "react";
import { api, ok, type Schema } from "../api/client";
import { Button } from "../ui/Button";
import { Field } from "../ui/Field";
import { counted, onDay } from "../ui/words";
import { readRegisterSearch, type RegisterSearch } from "../api/search";
import { popoverLook } from "../ui/popoverLook";

type View = Schema["View"];

/** Saved views with the number of sites in each, and a form to save the current one. */
export function Views({ search }: { search: RegisterSearch }) {
  const [isOpen, setOpen] = useState(false);
  const views = useQuery({ queryKey: ["views"], queryFn: () => ok(api.GET("/api/views")) });
  const all = views.data ?? [];
  const grown = all.filter((view) => view.grown > 0).length;
  return (
    <Popover.Root open={isOpen} onOpenChange={setOpen}>
      <Popover.Trigger className="min-h-6 text-[13px] underline decoration-rule-strong underline-offset-4">
        Saved views{all.length > 0 ? ` (${all.length})` : ""}
        {grown > 0 && (
          <span className="ml-1.5 rounded-[3px] bg-ochre-pale px-1.5 text-[12px] font-semibold text-ochre no-underline">
            {counted(grown, "has", "have")} grown
          </span>
        )}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={6}
          collisionPadding={8}
          aria-label="Saved views"
          className={`${popoverLook} w-[400px] pb-3`}
        >
          {all.length > 0 && (
            <ul aria-label="Views" className="max-h-[300px] overflow-auto border-b border-rule pb-1">
              {all.map((view) => (
                <ViewItem key={view.id} view={view} onOpened={() => setOpen(false)} />
              ))}
            </ul>
          )}
          <SaveForm search={search} own={all.filter((view) => view.isMine)} />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

/** The address parameters of a view. */
const searchOf = (view: View): RegisterSearch => readRegisterSearch({ ...view.view.sentence, show: view.view.show });

function ViewItem({ view, onOpened }: { view: View; onOpened: () => void }) {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const path = { params: { path: { view: view.id } } };
  const seen = useMutation({
    mutationFn: () => ok(api.POST("/api/views/{view}/seen", path)),
    onSettled: () => queries.invalidateQueries({ queryKey: ["views"] }),
  });
  const forget = useMutation({
    mutationFn: () => ok(api.DELETE("/api/views/{view}", path)),
    onSettled: () => queries.invalidateQueries({ queryKey: ["views"] }),
  });
  return (
    <li className="flex items-baseline gap-2 px-3 py-1 hover:bg-bar">
      <button
        type="button"
        className="min-h-7 min-w-0 flex-1 text-left"
        onClick={() => {
          seen.mutate();
          onOpened();
          void navigate({ to: "/", search: searchOf(view) });
        }}
      >
        <bdi className="block truncate font-semibold">{view.name}</bdi>
        <span className="block text-[12.5px] text-second">
          {view.isMine ? (view.isShared ? "yours, shared with everybody" : "yours") : `shared by ${view.by.name}`}
          {view.problem && <span className="text-madder">; its filter is no longer valid: {view.problem}</span>}
        </span>
      </button>
      <span className="shrink-0 text-right text-[13px]">
        {view.count?.toLocaleString("en-GB")}
        {view.grown > 0 && view.seenAt && (
          <span className="block text-[12.5px] font-semibold text-ochre">
            {view.grown} more since {onDay(view.seenAt)}
          </span>
        )}
      </span>
      {view.isMine && (
        <button
          type="button"
          aria-label={`Delete the view ${view.name}`}
          className="min-h-6 shrink-0 text-[12.5px] underline"
          onClick={() => forget.mutate()}
        >
          Delete
        </button>
      )}
    </li>
  );
}

function SaveForm({ search, own }: { search: RegisterSearch; own: View[] }) {
  const queries = useQueryClient();
  const [name, setName] = useState("");
  const [isShared, setShared] = useState(false);
  const keep = useMutation({
    mutationFn: () => {
      const { show, ...sentence } = search;
      delete sentence.site;
      return ok(api.POST("/api/views", { body: { name, isShared, view: { sentence, ...(show && { show }) } } }));
    },
    onSuccess: async () => {
      setName("");
      await queries.invalidateQueries({ queryKey: ["views"] });
    },
  });
  const isTaken = own.some((view) => view.name.toLowerCase() === name.trim().toLowerCase());
  return (
    <form
      className="px-3"
      onSubmit={(event) => {
        event.preventDefault();
        if (name.trim()) keep.mutate();
      }}
    >
      <Field
        label="Save the current view as"
        value={name}
        maxLength={80}
        autoComplete="off"
        onChange={(event) => setName(event.target.value)}
        hint={isTaken ? "You have a view with that name; saving replaces it." : undefined}
      />
      <label className="mt-2 flex min-h-6 items-center gap-2">
        <input
          type="checkbox"
          className="size-4"
          checked={isShared}
          onChange={(event) => setShared(event.target.checked)}
        />
        Share with everybody; each person sees the sites in their own scope
      </label>
      {keep.error && (
        <p role="alert" className="mt-2 text-[13px] text-madder">
          {keep.error.message}
        </p>
      )}
      <Button type="submit" className="mt-3" disabled={!name.trim() || keep.isPending}>
        {isTaken ? "Replace the view" : "Save the view"}
      </Button>
    </form>
  );
}
