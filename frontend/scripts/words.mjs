// Lists every text of the interface that a person may read, with its place: node scripts/words.mjs
import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import ts from "typescript";

const SHOWN = new Set(["title", "placeholder", "aria-label", "label", "words", "alt", "xWords", "yWords", "testid-never"]);
const HIDDEN = new Set(["className", "data-testid", "testid", "key", "id", "type", "role", "href", "to", "fill", "stroke", "d", "transform", "viewBox"]);
const isText = (text) => /[A-Za-z]{2}/.test(text) && /[a-z] |^[A-Z][a-z]+|…$/.test(text);

function visit(file, node, source, hidden = false) {
  const at = () => `${file}:${source.getLineAndCharacterOfPosition(node.getStart(source)).line + 1}`;
  if (ts.isImportDeclaration(node)) return;
  if (ts.isJsxAttribute(node)) {
    const name = node.name.getText(source);
    if (HIDDEN.has(name) || (name.startsWith("data-"))) return;
    if (node.initializer && ts.isStringLiteral(node.initializer) && !SHOWN.has(name)) return;
  }
  if (ts.isJsxText(node)) {
    const text = node.text.replace(/\s+/g, " ").trim();
    if (/[A-Za-z]/.test(text)) console.log(`${at()}\t${text}`);
  } else if (ts.isStringLiteral(node) || ts.isNoSubstitutionTemplateLiteral(node)) {
    if (isText(node.text) && !hidden) console.log(`${at()}\t${node.text}`);
  } else if (ts.isTemplateExpression(node)) {
    const text = node.head.text + node.templateSpans.map((s) => `{…}${s.literal.text}`).join("");
    if (isText(text)) console.log(`${at()}\t${text}`);
  }
  ts.forEachChild(node, (child) => visit(file, child, source, hidden));
}

function walk(folder) {
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    const path = join(folder, entry.name);
    if (entry.isDirectory()) walk(path);
    else if (/\.tsx?$/.test(entry.name) && !/\.test\.|schema\.d/.test(entry.name)) {
      const source = ts.createSourceFile(path, readFileSync(path, "utf8"), ts.ScriptTarget.Latest, true, ts.ScriptKind.TSX);
      visit(path, source, source);
    }
  }
}

walk("src");
