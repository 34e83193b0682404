// Lays beside each script and style sheet of the build the same compressed as far as it goes, so that nobody has to while they are sent.
import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import { fileURLToPath } from "node:url";
import { brotliCompressSync, gzipSync } from "node:zlib";

const WORTH_IT = 200;
const folder = new URL("../PlainPorch.Web/wwwroot/assets/", import.meta.url);

for (const name of readdirSync(folder).filter((name) => /\.(js|css)$/.test(name))) {
  const path = fileURLToPath(new URL(name, folder));
  const content = readFileSync(path);
  if (content.length < WORTH_IT) continue;
  writeFileSync(`${path}.br`, brotliCompressSync(content));
  writeFileSync(`${path}.gz`, gzipSync(content, { level: 9 }));
}
