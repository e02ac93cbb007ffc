// Writes the page of third-party notices: every package that is installed with the program, with its licence.
import { createHash } from "node:crypto";
import { existsSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";

const LICENCE = /^(licen[cs]e|copying|notice|ofl)(\.|-|$)/i;
const ESCAPES = { "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;" };
const escaped = (text) => text.replace(/[&<>"]/g, (c) => ESCAPES[c]);

/** The packages of the lock file that are not for developers only, as they are installed. */
function shipped(root) {
  const { packages } = JSON.parse(readFileSync(join(root, "package-lock.json"), "utf8"));
  return Object.entries(packages)
    .filter(([path, { dev }]) => path !== "" && !dev && existsSync(join(root, path, "package.json")))
    .map(([path, { version }]) => {
      const folder = join(root, path);
      const own = JSON.parse(readFileSync(join(folder, "package.json"), "utf8"));
      const files = readdirSync(folder).filter((name) => LICENCE.test(name));
      const text = files.map((name) => readFileSync(join(folder, name), "utf8").trim()).join("\n\n");
      return { name: `${own.name} ${version}`, licence: licenceOf(own), text };
    })
    .sort((a, b) => a.name.localeCompare(b.name, "en"));
}

function licenceOf({ license, licenses }) {
  if (typeof license === "string") return license;
  return license?.type ?? licenses?.map((l) => l.type).join(" or ") ?? "see its text";
}

/** Packages with the same text stand over it together. */
export function writeNotices(root, folder) {
  const texts = new Map();
  for (const { name, licence, text } of shipped(root)) {
    const key = createHash("sha256").update(licence).update("\0").update(text.replace(/\s+/g, " ")).digest("hex");
    const entry = texts.get(key) ?? { licence, text, names: new Set() };
    entry.names.add(name);
    texts.set(key, entry);
  }
  const sections = [...texts.values()].map(
    ({ licence, text, names }) =>
      `<section><h2>${[...names].map(escaped).join(", ")}</h2><p>${escaped(licence)}</p>${text ? `<pre>${escaped(text)}</pre>` : ""}</section>`,
  );
  const html = `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8" />
<meta name="viewport" content="width=device-width, initial-scale=1" />
<title>Third-party notices · Velvet Hinge</title>
<link rel="icon" href="/mark.svg" type="image/svg+xml" />
<link rel="stylesheet" href="/notices.css" />
</head>
<body>
<main>
<h1>Third-party notices</h1>
<p>Velvet Hinge is made with the work of others. These packages are installed with it; each stands here with its licence.</p>
<p><a href="/">Back to Velvet Hinge</a></p>
${sections.join("\n")}
</main>
</body>
</html>
`;
  writeFileSync(join(folder, "notices.html"), html);
}
