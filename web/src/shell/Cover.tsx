import { labels } from "../api/labels";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Link, useLocation, useNavigate } from "@tanstack/react-router";
import clsx from "clsx";
import { Popover } from "radix-ui";
import { api, ok, type Schema } from "../api/client";
import { Button } from "../ui/Button";
import { FindButton } from "../find/FindButton";
import { OwnPassword } from "../signin/OwnPassword";
import { Sessions } from "../signin/Sessions";

/** The navigation bar, with a brass rule under the open page, and the account menu. */
export function Cover({ me }: { me: Schema["Me"] }) {
  const pathname = useLocation({ select: (location) => location.pathname });
  return (
    <header className="cover flex print:hidden min-h-[50px] shrink-0 flex-wrap items-stretch gap-x-5 xl:gap-x-8 bg-cover px-3 text-cover-ink sm:px-5">
      <Link to="/" className="flex items-center gap-2 font-title text-[17px] font-semibold">
        <img src="/icon.svg" alt="" width="24" height="24" />
        Attic Ledger
      </Link>
      <nav
        aria-label="Pages"
        className="order-last -mx-1 flex w-full items-stretch overflow-x-auto lg:order-none lg:w-auto xl:gap-1"
      >
        {me.role === "owner" && <Book to="/your-sites" name="Your sites" />}
        {me.role !== "owner" && <Book to="/desk" name="Desk" isOpen={pathname.startsWith("/approvals/")} />}
        <Book to="/" name="Register" isOpen={/^\/(sites|batches)\//.test(pathname)} />
        {me.role !== "owner" && <Book to="/owners" name="Owners" isOpen={pathname.startsWith("/offers/")} />}
        {me.role !== "owner" && <Book to="/rules" name="Rules" />}
        <Book to="/attic" name="Attic" />
        <Book to="/journal" name="Journal" />
        {me.role !== "owner" && <Book to="/sources" name="Sources" />}
        {me.role !== "owner" && me.mayAct && <Book to="/your-sites" name="Your sites" />}
      </nav>
      <div className="ml-auto flex items-center py-2 lg:py-0">
        <Link to="/words" className="mr-4 text-[13px] underline">
          Words<span className="hidden xl:inline"> used here</span>
        </Link>
        <FindButton me={me} />
        <Account me={me} />
      </div>
    </header>
  );
}

const openBook = "border-brass! bg-[#55323f] text-white";

type BookPath = "/" | "/desk" | "/owners" | "/rules" | "/attic" | "/journal" | "/sources" | "/your-sites";

function Book({ to, name, isOpen = false }: { to: BookPath; name: string; isOpen?: boolean }) {
  return (
    <Link
      to={to}
      activeOptions={{ exact: to === "/", includeSearch: false }}
      className={clsx(
        "flex items-center border-b-4 border-transparent px-2.5 pt-1 pb-1 font-semibold whitespace-nowrap lg:pb-0 xl:px-4",
        isOpen && openBook,
      )}
      activeProps={{ className: openBook, "aria-current": "page" }}
    >
      {name}
    </Link>
  );
}

function Account({ me }: { me: Schema["Me"] }) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const out = useMutation({
    mutationFn: () => ok(api.DELETE("/api/session")),
    onSuccess: async () => {
      queries.clear();
      await navigate({ to: "/sign-in" });
    },
  });
  const initials = me.name
    .split(" ")
    .map((word) => word.charAt(0))
    .slice(0, 2)
    .join("");
  return (
    <Popover.Root>
      <Popover.Trigger
        aria-label={`Account: ${me.name}`}
        className="size-8 rounded-full bg-brass text-[13px] font-bold text-[#3d2130]"
      >
        {initials}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          sideOffset={8}
          collisionPadding={8}
          aria-label="Account"
          className="z-20 w-80 rounded-[5px] border border-rule-strong bg-sheet p-4 text-ink"
        >
          <p className="font-title text-[16px] font-semibold">{me.name}</p>
          <p className="text-second">{me.mail}</p>
          <p className="mt-1 text-second">
            Signed in as {labels.Role[me.role]}
            {me.part ? ` of ${me.part}` : ""}.
          </p>
          <p className="mt-2">
            <Popover.Close asChild>
              <Link to="/deadlines" className="underline">
                Deadlines
              </Link>
            </Popover.Close>
          </p>
          {me.role === "administrator" && (
            <p className="mt-2">
              <Popover.Close asChild>
                <Link to="/accounts" className="underline">
                  Accounts
                </Link>
              </Popover.Close>
            </p>
          )}
          {me.isDemo && me.role === "administrator" && (
            <p className="mt-2">
              <Link to="/demo-clock" className="underline">
                The demo's clock
              </Link>
            </p>
          )}
          <Sessions />
          <OwnPassword />
          <Button className="mt-3" onClick={() => out.mutate()} disabled={out.isPending}>
            Sign out
          </Button>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
