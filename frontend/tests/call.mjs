// Calls functions of one React-free source file: reads {"module", "calls": [[name, [arguments]], …]} from standard input,
// writes the results as JSON. So the arithmetic behind the drawings can be checked by the same test runner as all else.
import { readFileSync, mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { pathToFileURL } from "node:url";
import ts from "typescript";

const { module, calls } = JSON.parse(readFileSync(0, "utf8"));
const source = readFileSync(new URL(`../src/${module}`, import.meta.url), "utf8");
const { outputText } = ts.transpileModule(source, {
  compilerOptions: { module: ts.ModuleKind.ESNext, target: ts.ScriptTarget.ES2022 },
});
const folder = mkdtempSync(join(tmpdir(), "girder-ts-"));
const file = join(folder, "module.mjs");
writeFileSync(file, outputText);
const functions = await import(pathToFileURL(file).href);
rmSync(folder, { recursive: true });
process.stdout.write(JSON.stringify(calls.map(([name, args]) => functions[name](...args))));
