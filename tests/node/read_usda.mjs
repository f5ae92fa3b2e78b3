// Reads a USD text with three's loader and says what is in it: `node read_usda.mjs FILE [VARIANT]`.
import { readFileSync } from 'node:fs';
import { Box3, Vector3 } from 'three';
import { USDLoader } from 'three/examples/jsm/loaders/USDLoader.js';
import { USDAParser } from 'three/examples/jsm/loaders/usd/USDAParser.js';

const text = readFileSync(process.argv[2], 'utf8');
const variant = process.argv[3] ?? text.match(/string preset = "([^"]*)"/)?.[1];

// three's reader of USD's text knows no variant sets: the chosen variant is put in their place, as composing does.
function inner(from, head) {
  const at = from.indexOf(head);
  if (at < 0) throw new Error(`there is no ${head}`);
  let depth = 1, end = at + head.length;
  for (; depth > 0; ++end) depth += from[end] === '{' ? 1 : from[end] === '}' ? -1 : 0;
  return { at, end, body: from.slice(at + head.length, end - 1) };
}
function chosen(from) {
  if (!from.includes('variantSet "preset" = {')) return from;
  const set = inner(from, 'variantSet "preset" = {');
  return from.slice(0, set.at) + inner(set.body, `"${variant}" {`).body + from.slice(set.end);
}
const composed = chosen(text);
const group = new USDLoader().parse(composed);
group.updateMatrixWorld(true);
const meshes = [];
group.traverse((node) => {
  if (!node.isMesh || !node.geometry.attributes.position) return;
  const box = new Box3().setFromObject(node, true);
  const g = node.geometry;
  const materials = (Array.isArray(node.material) ? node.material : [node.material]).map((m) => ({
    name: m.name, colour: m.color.toArray(), metallic: m.metalness, roughness: m.roughness, opacity: m.opacity,
  }));
  const a = new Vector3(), b = new Vector3(), c = new Vector3();
  let area = 0;
  const count = g.index ? g.index.count : g.attributes.position.count;
  const at = (i, v) => v.fromBufferAttribute(g.attributes.position, g.index ? g.index.getX(i) : i).applyMatrix4(node.matrixWorld);
  for (let i = 0; i + 2 < count; i += 3) {
    at(i, a); at(i + 1, b); at(i + 2, c);
    area += b.sub(a).cross(c.sub(a)).length() / 2;
  }
  meshes.push({
    name: node.name, triangles: count / 3, low: box.min.toArray(), high: box.max.toArray(), area,
    uvs: !!g.attributes.uv, lightUvs: !!g.attributes.uv1, colours: !!g.attributes.color, materials,
  });
});
// What the loader does not build: references within the file, instancing, what the syntax alone tells.
const specs = new USDAParser().parseData(composed).specsByPath;
const found = Object.entries(specs);
const prims = found.filter(([, spec]) => spec.fields?.typeName !== undefined || spec.fields?.specifier !== undefined);
console.log(JSON.stringify({
  meshes,
  prims: prims.length,
  instances: found.filter(([, spec]) => spec.fields?.references).map(([path, spec]) => ({
    path, reference: spec.fields.references, transform: specs[`${path}.xformOp:transform`]?.fields?.default,
  })),
  paths: found.map(([path]) => path),
  samples: Object.fromEntries(found.filter(([, spec]) => spec.fields?.timeSamples)
    .map(([path, spec]) => [path, spec.fields.timeSamples])),
}));
