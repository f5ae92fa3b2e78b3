// Khronos' glTF validator: prints errors and warnings as JSON, of several files as a list.
import { readFileSync } from "node:fs";
import validator from "gltf-validator";
const told = async (file) => {
  const report = await validator.validateBytes(new Uint8Array(readFileSync(file)));
  return { errors: report.issues.numErrors, warnings: report.issues.numWarnings, messages: report.issues.messages.slice(0, 5),
    triangles: report.info.totalTriangleCount, vertices: report.info.totalVertexCount };
};
const reports = [];
for (const file of process.argv.slice(2)) reports.push(await told(file));
console.log(JSON.stringify(reports.length === 1 ? reports[0] : reports));
