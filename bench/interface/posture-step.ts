import { parseArgs } from 'node:util';
import { build } from 'esbuild';
import { chromium, type Page } from '@playwright/test';
import config from '../../playwright.config';
import { largeCharacter } from '../posture/large-character';

/**
 * `npx tsx bench/interface/posture-step.ts [--url http://127.0.0.1:4310] [--vertices 50000] [--steps 30]`: main-thread
 * work of one turning step on Posture, by the browser's own count, as a ratio to a bare three scene that turns one bone
 * of the same file and draws the same four views. Needs a running Yarvo, to which it gives the character.
 */
const { values } = parseArgs({
  options: {
    url: { type: 'string', default: 'http://127.0.0.1:4310' },
    vertices: { type: 'string', default: '50000' },
    steps: { type: 'string', default: '30' },
  },
});
const STEPS = Number(values.steps);
/** Longer than a frame takes where everything is drawn by the processor. */
const PAUSE_MS = 400;

const browser = await chromium.launch(config.use?.launchOptions);
const page = await browser.newPage({ baseURL: values.url, viewport: { width: 1280, height: 800 } });
const bytes = await largeCharacter(Number(values.vertices));
const name = `step-bench-${Date.now()}`;
await page.goto('/');
const answer = await page.request.post('/api/characters', {
  multipart: { file: { name: `${name}.glb`, mimeType: 'model/gltf-binary', buffer: Buffer.from(bytes) } },
});
if (!answer.ok()) throw new Error(`not taken in: ${answer.status()} ${await answer.text()}`);
const characterId = await idOf(page, name);

/** Milliseconds of main-thread work for each step. */
async function workOf(at: Page, step: (index: number) => Promise<void>): Promise<number> {
  const session = await at.context().newCDPSession(at);
  await session.send('Performance.enable');
  const taskSeconds = async () =>
    (await session.send('Performance.getMetrics')).metrics.find((entry) => entry.name === 'TaskDuration')?.value ?? 0;
  for (let warm = 0; warm < 5; warm++) {
    await step(warm);
    await at.waitForTimeout(PAUSE_MS);
  }
  const before = await taskSeconds();
  for (let index = 0; index < STEPS; index++) {
    await step(index);
    await at.waitForTimeout(PAUSE_MS);
  }
  return ((await taskSeconds()) - before) * (1000 / STEPS);
}

async function idOf(at: Page, character: string): Promise<string> {
  for (let tries = 0; tries < 120; tries++) {
    const { characters } = (await (await at.request.get('/api/characters?size=500')).json()) as {
      characters: { id: string; fileName: string }[];
    };
    const found = characters.find(({ fileName }) => fileName === `${character}.glb`);
    if (found) return found.id;
    await at.waitForTimeout(500);
  }
  throw new Error('the character did not arrive');
}

await page.goto(`/characters/${characterId}/posture`);
await page.locator('[data-stage="ready"]').waitFor();
await page.getByRole('button', { name: 'Left upper arm', exact: true }).click();
await page.waitForTimeout(4000);
const ours = await workOf(page, (index) => page.keyboard.down(index % 2 === 0 ? 'ArrowRight' : 'ArrowLeft'));

const view = (await (await page.request.get(`/api/characters/${characterId}`)).json()) as { modelHash: string };
const bundle = await build({
  stdin: {
    resolveDir: process.cwd(),
    contents: `
      import * as three from 'three';
      import { GLTFLoader } from 'three/addons/loaders/GLTFLoader.js';
      const renderer = new three.WebGLRenderer({ antialias: false });
      renderer.setSize(850, 720);
      renderer.autoClear = false;
      renderer.setScissorTest(true);
      document.body.append(renderer.domElement);
      const scene = new three.Scene();
      scene.add(new three.HemisphereLight(0xffffff, 0xb9b2a4, 2), new three.DirectionalLight(0xffffff, 1.6));
      const camera = new three.PerspectiveCamera(32, 850 / 720, 0.1, 50);
      camera.position.set(0, 1, 5);
      let bone;
      new GLTFLoader().load('/api/characters/${characterId}/model/${view.modelHash}', ({ scene: model }) => {
        scene.add(model);
        model.traverse((object) => {
          if (object.isMesh) {
            object.frustumCulled = false;
            object.material.transparent = true;
            object.material.opacity = 0.34;
          }
          if (object.name.startsWith('LeftUpperArm')) bone = object;
        });
        document.body.dataset.ready = 'yes';
      });
      const draw = () => {
        for (const [x, y] of [[0, 0], [425, 0], [0, 360], [425, 360]]) {
          renderer.setViewport(x, y, 425, 360);
          renderer.setScissor(x, y, 425, 360);
          renderer.clear();
          renderer.render(scene, camera);
        }
      };
      window.addEventListener('keydown', (event) => {
        bone.rotateX(event.key === 'ArrowRight' ? 0.09 : -0.09);
        requestAnimationFrame(draw);
      });
    `,
  },
  bundle: true,
  write: false,
  format: 'esm',
});
const bare = await browser.newPage({ baseURL: values.url, viewport: { width: 1280, height: 800 } });
await bare.route('**/bare', (route) =>
  route.fulfill({
    contentType: 'text/html',
    body: `<body><script type="module">${bundle.outputFiles[0].text.replaceAll('</script', '<\\/script')}</script></body>`,
  }),
);
await bare.goto('/bare');
await bare.locator('body[data-ready]').waitFor();
await bare.waitForTimeout(2000);
const theirs = await workOf(bare, (index) => bare.keyboard.down(index % 2 === 0 ? 'ArrowRight' : 'ArrowLeft'));
process.stdout.write(
  `main-thread work of a step: Posture ${ours.toFixed(1)} ms, bare scene ${theirs.toFixed(1)} ms, ratio ${(ours / theirs).toFixed(2)}\n`,
);
await browser.close();
