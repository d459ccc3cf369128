import { Popover } from "radix-ui";
import { popoverLook } from "../register/SentencePart";

const forms = [
  { as: "csv", name: "CSV", hint: "for any spreadsheet" },
  { as: "xlsx", name: "Workbook", hint: "numbers stay numbers" },
  { as: "jsonl", name: "JSON Lines", hint: "for scripts" },
];

/** A whole list with its columns, as a file: where it is, by the form that is asked for. */
export function Files({ hrefOf }: { hrefOf: (form: string) => string }) {
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
