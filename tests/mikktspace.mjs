// Says which tangents the reference code (Mikkelsen) gives the corners of triangles: JSON in, JSON out.
import fs from "node:fs";
import { createRequire } from "node:module";
import path from "node:path";

const load = createRequire(
  path.join(import.meta.dirname, "../ui/package.json"),
);
const { generateTangents } = load("mikktspace");
const { places, normals, uv } = JSON.parse(fs.readFileSync(0, "utf8"));
const found = generateTangents(
  new Float32Array(places),
  new Float32Array(normals),
  new Float32Array(uv),
);
console.log(JSON.stringify(Array.from(found)));
