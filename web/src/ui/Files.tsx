import { Popover } from "radix-ui";
import { popoverLook } from "./popoverLook";

const forms = [
  { as: "csv", name: "CSV", hint: "for any spreadsheet" },
  { as: "xlsx", name: "Workbook", hint: "numbers stay numbers" },
  { as: "jsonl", name: "JSON Lines", hint: "for scripts" },
];

/** Exports a whole list with its columns; each format has a link. */
export function Files({ hrefOf }: { hrefOf: (form: string) => string }) {
  return (
    <Popover.Root>
      <Popover.Trigger className="ml-3 min-h-6 underline decoration-rule-strong underline-offset-4">
        Export
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content align="end" sideOffset={4} aria-label="Export" className={`${popoverLook} w-[230px] p-1.5`}>
          <ul>
            {forms.map((form) => (
              <li key={form.as}>
                <Popover.Close asChild>
                  <a
                    href={hrefOf(form.as)}
                    download
                    className="flex justify-between gap-3 rounded-[3px] px-2 py-1.5 hover:bg-bar"
                  >
                    <span className="font-semibold">{form.name}</span>
                    <span className="text-second">{form.hint}</span>
                  </a>
                </Popover.Close>
              </li>
            ))}
          </ul>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
