// SPDX-License-Identifier: GPL-3.0-or-later
// Shows the shapes of a preview page: turning slowly until they are touched, then by the hand that drags.
import {
  ACESFilmicToneMapping, AnimationMixer, Box3, Color, DirectionalLight, PerspectiveCamera, PMREMGenerator, Scene,
  Timer, Vector3, WebGLRenderer,
} from 'three';
import { OrbitControls } from 'three/examples/jsm/controls/OrbitControls.js';
import { RoomEnvironment } from 'three/examples/jsm/environments/RoomEnvironment.js';
import { GLTFLoader } from 'three/examples/jsm/loaders/GLTFLoader.js';

const canvas = document.querySelector('canvas');
const states = [...document.querySelectorAll('script[type="model/gltf-binary"]')];
const tables = [...document.querySelectorAll('footer table')];
const buttons = [...document.querySelectorAll('nav button')];

function bytesOf(element) {
  const text = atob(element.textContent);
  const bytes = new Uint8Array(text.length);
  for (let i = 0; i < text.length; ++i) bytes[i] = text.charCodeAt(i);
  return bytes.buffer;
}

function say(text) {
  const line = document.createElement('p');
  line.textContent = text;
  canvas.replaceWith(line);
}

function start() {
  const renderer = new WebGLRenderer({ canvas, antialias: true, alpha: true });
  renderer.toneMapping = ACESFilmicToneMapping;
  const scene = new Scene();
  // Glass lets the ground through, so that the ground is in the scene.
  scene.background = new Color(getComputedStyle(document.body).backgroundColor);
  const rays = new PMREMGenerator(renderer);
  scene.environment = rays.fromScene(new RoomEnvironment(), 0.04).texture;
  scene.environmentIntensity = 0.75;
  const sun = new DirectionalLight(new Color(1, 0.96, 0.9), 1.6);
  sun.position.set(-2, 4, 3);
  scene.add(sun);
  const camera = new PerspectiveCamera(32, 1, 0.01, 1000);
  const controls = new OrbitControls(camera, canvas);
  controls.enableDamping = true;
  controls.autoRotate = !matchMedia('(prefers-reduced-motion: reduce)').matches;
  controls.autoRotateSpeed = 1.2;
  controls.addEventListener('start', () => { controls.autoRotate = false; });
  controls.listenToKeyEvents(canvas);
  let model = null, mixer = null, framed = false;

  function frame(box) {
    const middle = box.getCenter(new Vector3()), reach = box.getSize(new Vector3()).length() / 2 || 1;
    const away = reach / Math.sin((camera.fov * Math.PI) / 360) * 1.08;
    camera.near = away / 100;
    camera.far = away * 20;
    camera.position.copy(middle).add(new Vector3(0.62, 0.42, 0.78).normalize().multiplyScalar(away));
    controls.target.copy(middle);
    framed = true;
  }

  function show(number) {
    buttons.forEach((button, i) => button.setAttribute('aria-pressed', String(i === number)));
    tables.forEach((table, i) => { table.hidden = i !== number; });
    new GLTFLoader().parse(bytesOf(states[number]), '', (gltf) => {
      if (model) scene.remove(model);
      model = gltf.scene;
      scene.add(model);
      mixer = gltf.animations.length ? new AnimationMixer(model) : null;
      gltf.animations.forEach((clip) => mixer.clipAction(clip).play());
      model.updateMatrixWorld(true);
      const box = new Box3().setFromObject(model, true);
      if (!framed) frame(box);
      let triangles = 0;
      model.traverse((node) => {
        if (node.isMesh) triangles += (node.geometry.index ? node.geometry.index.count : 0) / 3;
      });
      // For whoever looks at the page from outside.
      Object.assign(canvas.dataset, { state: number, triangles, low: box.min.toArray(), high: box.max.toArray() });
    }, (error) => say(`The shape cannot be shown: ${error.message ?? error}`));
  }

  buttons.forEach((button, i) => button.addEventListener('click', () => show(i)));
  const timer = new Timer();
  renderer.setAnimationLoop((now) => {
    timer.update(now);
    const width = canvas.clientWidth, height = canvas.clientHeight;
    if (canvas.width !== width * devicePixelRatio || canvas.height !== height * devicePixelRatio) {
      renderer.setPixelRatio(devicePixelRatio);
      renderer.setSize(width, height, false);
      camera.aspect = width / Math.max(height, 1);
      camera.updateProjectionMatrix();
    }
    if (mixer) mixer.update(timer.getDelta());
    controls.update();
    renderer.render(scene, camera);
  });
  // A link may name a state: preview.html#Squat.
  const named = buttons.findIndex((button) => button.textContent === decodeURIComponent(location.hash.slice(1)));
  show(Math.max(named, 0));
}

try {
  start();
} catch (error) {
  say('This browser cannot draw in three dimensions (WebGL is missing or switched off).');
}
