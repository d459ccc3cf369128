import { useCallback, type ReactNode } from "react";

export const actionLook = (isFirst: boolean) =>
  `inline-block rounded-[4px] border px-3 py-1.5 text-[13px] font-semibold whitespace-nowrap ${isFirst ? "border-cover bg-cover text-cover-ink dark:border-brass" : "border-rule-strong bg-sheet hover:bg-bar"}`;

/** One decision or task of the desk. It can be reached with the arrow keys; its actions have keys of their own. */
export function Item(props: { when: string; since: string; title: string; action: ReactNode; children: ReactNode }) {
  return (
    <li
      tabIndex={-1}
      data-item
      className="flex border-b border-rule odd:bg-sheet even:bg-bar focus:bg-bookmark focus:outline-2 focus:-outline-offset-2 focus:outline-brass"
    >
      <p className="w-[126px] shrink-0 border-r-4 border-double border-rule-strong py-2.5 pr-3 text-right">
        <span className="font-title text-[18px] leading-tight font-semibold">{props.when}</span>
        <span className="block text-[12.5px] text-second">{props.since}</span>
      </p>
      <div className="min-w-0 flex-1 px-4 py-2.5">
        <h2 className="text-[16px]">
          <bdi>{props.title}</bdi>
        </h2>
        <div className="mt-0.5 max-w-[76ch] text-second">{props.children}</div>
      </div>
      <div className="shrink-0 py-2.5 pr-5">{props.action}</div>
    </li>
  );
}

const keys: Record<string, string> = { Enter: "open", r: "remedy", p: "put-off" };

/** Up and down move through the items of a list; on an item, a key presses the button or link that carries it as data-does. */
export const useItemKeys = () =>
  useCallback((list: HTMLElement | null) => {
    if (!list) return;
    const moved = (event: KeyboardEvent) => moveByKeys(event, list);
    list.addEventListener("keydown", moved);
    return () => list.removeEventListener("keydown", moved);
  }, []);

function moveByKeys(event: KeyboardEvent, list: HTMLElement) {
  const at = event.target as HTMLElement;
  if (event.ctrlKey || event.metaKey || event.altKey || at.closest("input, select, textarea, form")) return;
  const step = event.key === "ArrowDown" ? 1 : event.key === "ArrowUp" ? -1 : 0;
  const items = [...list.querySelectorAll<HTMLElement>("[data-item]")];
  const item = at.closest<HTMLElement>("[data-item]");
  if (step !== 0) {
    const next = items[item ? items.indexOf(item) + step : step > 0 ? 0 : items.length - 1];
    if (!next) return;
    event.preventDefault();
    next.focus();
    next.scrollIntoView({ block: "nearest" });
    return;
  }
  const does = keys[event.key];
  if (!does || !item || (event.key === "Enter" && at !== item)) return;
  const button = item.querySelector<HTMLElement>(`[data-does="${does}"]`);
  if (!button) return;
  event.preventDefault();
  button.click();
}
