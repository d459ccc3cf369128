/** The style of everything that opens above the page. */
export const popoverLook = "z-20 max-h-[60vh] overflow-auto rounded-[5px] border border-rule-strong bg-sheet text-ink";
