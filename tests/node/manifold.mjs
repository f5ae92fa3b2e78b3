// Booleans by manifold-3d. Every line of standard input is a job, every line of output its answer:
// { "kind": "union" | "difference" | "intersection", "meshes": [{ "points": [x, y, z, ...], "triangles": [a, b, c, ...] }, ...] }
// the first mesh against all the others in one batch; or "again" for the last job once more.
// Answers { volume, area, triangles, status, whole, operation } with times in milliseconds.
import { createInterface } from "node:readline";
import Module from "manifold-3d";

const library = await Module();
library.setup();
const { Manifold, Mesh } = library;
let job;

function run() {
  const start = performance.now();
  const solids = job.meshes.map((m) => new Manifold(new Mesh({ numProp: 3, vertProperties: m.points, triVerts: m.triangles })));
  for (const solid of solids) solid.numTri();
  const built = performance.now();
  const result = Manifold[job.kind](solids);
  const triangles = result.numTri();
  const done = performance.now();
  const answer = { volume: result.volume(), area: result.surfaceArea(), triangles, status: String(result.status()), whole: done - start, operation: done - built };
  result.delete();
  for (const solid of solids) solid.delete();
  return answer;
}

for await (const line of createInterface({ input: process.stdin })) {
  if (line !== "again") {
    job = JSON.parse(line);
    for (const m of job.meshes) {
      m.points = Float32Array.from(m.points);
      m.triangles = Uint32Array.from(m.triangles);
    }
  }
  process.stdout.write(JSON.stringify(run()) + "\n");
}
