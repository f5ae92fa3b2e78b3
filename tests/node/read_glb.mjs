// Reads a binary glTF with three's loader and says what stands where at a time: `node read_glb.mjs FILE [SECONDS]`.
import { readFileSync } from 'node:fs';
import { AnimationMixer, Box3, Matrix4, Vector3 } from 'three';
import { GLTFLoader } from 'three/examples/jsm/loaders/GLTFLoader.js';

globalThis.self ??= globalThis;
const bytes = readFileSync(process.argv[2]);
const seconds = Number(process.argv[3] ?? 0);
const gltf = await new GLTFLoader().parseAsync(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length), '');
if (gltf.animations.length) {
  const mixer = new AnimationMixer(gltf.scene);
  for (const clip of gltf.animations) mixer.clipAction(clip).play();
  mixer.setTime(seconds);
}
gltf.scene.updateMatrixWorld(true);
const nodes = [];
gltf.scene.traverse((node) => {
  const one = { name: node.name, userData: node.userData, place: node.matrixWorld.toArray() };
  if (node.isMesh) {
    const g = node.geometry;
    one.triangles = g.index.count / 3;
    one.attributes = Object.keys(g.attributes);
    one.copies = node.isInstancedMesh ? node.count : 1;
    const box = new Box3(), p = new Vector3(), m = new Matrix4();
    for (let k = 0; k < one.copies; ++k) {
      if (node.isInstancedMesh) node.getMatrixAt(k, m);
      else m.identity();
      for (let i = 0; i < g.attributes.position.count; ++i)
        box.expandByPoint(node.getVertexPosition(i, p).applyMatrix4(m).applyMatrix4(node.matrixWorld));
    }
    one.low = box.min.toArray();
    one.high = box.max.toArray();
    one.values = Object.fromEntries(Object.entries(g.attributes).filter(([name]) => name.startsWith('_'))
      .map(([name, a]) => [name, Array.from({ length: Math.min(a.count, 4096) }, (_, i) => a.getX(i))]));
  }
  nodes.push(one);
});
console.log(JSON.stringify({ nodes, clips: gltf.animations.map((c) => ({ duration: c.duration, tracks: c.tracks.length })) }));
