// Checks recipes against the published JSON Schema (draft 2020-12). Arguments: schema, recipe...
import { readFileSync } from "node:fs";
import Ajv from "ajv/dist/2020.js";
const read = (f) => JSON.parse(readFileSync(f, "utf8"));
const check = new Ajv({ strict: false, allErrors: true }).compile(read(process.argv[2]));
const out = {};
for (const file of process.argv.slice(3)) out[file] = check(read(file)) ? [] : check.errors.slice(0, 5);
console.log(JSON.stringify(Object.values(out)));
