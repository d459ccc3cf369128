// Writes src/api/labels.ts: the labels of enumerations, from the API document.
import { readFileSync, writeFileSync } from "node:fs";
import { format, resolveConfig } from "prettier";

const [document, target] = process.argv.slice(2);
const { schemas } = JSON.parse(readFileSync(document, "utf8")).components;
const all = Object.entries(schemas)
    .filter(([, schema]) => schema["x-labels"])
    .map(([name, schema]) => {
        const rows = Object.entries(schema["x-labels"]).map(
            ([value, label]) => `    ${JSON.stringify(value)}: ${JSON.stringify(label)},\n`,
        );
        return `  ${name}: {\n${rows.join("")}  } satisfies Record<Schema["${name}"], string>,\n`;
    });
const text = `import type { Schema } from "./client";\n\n/** The labels of enumerations, in lower case. Generated from the API document: npm run api. */\nexport const labels = {\n${all.join("")}};\n`;
writeFileSync(target, await format(text, { ...(await resolveConfig("src/api/labels.ts")), parser: "typescript" }));
