import { Popover } from "radix-ui";
import type { RegisterSearch } from "../search";
import { popoverLook } from "./SentencePart";

const forms = [
  { as: "csv", name: "CSV", hint: "for any spreadsheet" },
  { as: "xlsx", name: "Workbook", hint: "numbers stay numbers" },
  { as: "jsonl", name: "JSON Lines", hint: "for scripts" },
];

/** The whole list with its columns, as a file. */
export function Files({ search }: { search: RegisterSearch }) {
  return (
    <Popover.Root>
      <Popover.Trigger className="ml-3 min-h-6 underline decoration-rule-strong underline-offset-4">
        As a file
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content align="end" sideOffset={4} aria-label="As a file" className={`${popoverLook} w-[230px] p-1.5`}>
          <ul>
            {forms.map((form) => (
              <li key={form.as}>
                <Popover.Close asChild>
                  <a
                    href={fileOf(search, form.as)}
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

function fileOf(search: RegisterSearch, form: string): string {
  const query = new URLSearchParams();
  for (const [key, value] of Object.entries(search)) {
    if (key !== "site") for (const one of Array.isArray(value) ? value : [value]) query.append(key, String(one));
  }
  query.set("as", form);
  return `/api/register/export?${query}`;
}
