// The vertices three.js makes of a profile: argument is JSON { points: [[r, h], ...], segments }.
import { LatheGeometry, Vector2 } from "three";
const { points, segments } = JSON.parse(process.argv[2]);
const geometry = new LatheGeometry(points.map(([r, h]) => new Vector2(r, h)), segments);
console.log(JSON.stringify(Array.from(geometry.attributes.position.array)));
