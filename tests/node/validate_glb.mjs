// Khronos' glTF validator: prints errors and warnings as JSON.
import { readFileSync } from "node:fs";
import validator from "gltf-validator";
const report = await validator.validateBytes(new Uint8Array(readFileSync(process.argv[2])));
console.log(JSON.stringify({ errors: report.issues.numErrors, warnings: report.issues.numWarnings, messages: report.issues.messages.slice(0, 5),
  triangles: report.info.totalTriangleCount, vertices: report.info.totalVertexCount }));
