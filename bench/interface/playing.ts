import { parseArgs } from 'node:util';
import { build } from 'esbuild';
import { chromium, type CDPSession, type Page } from '@playwright/test';
import config from '../../playwright.config';
import { carryBytes } from '../../tests/helpers/carry-maker';
import { LIVELY, PLAIN_FIGURE, writeFigureGlb } from '../../tests/helpers/moving-figure';
import { largeCharacter } from '../posture/large-character';
import { mainThreadTasks, type TraceEvent } from './tasks';

/**
 * `npx tsx bench/interface/playing.ts [--url http://127.0.0.1:4310] [--vertices 12000] [--seconds 8]`: main-thread work of
 * a frame while the Drill plays 60 frames a second on a stage of 64 x 64 pixels, by the browser's own count, as a ratio to
 * a bare three scene that plays the carried file on a canvas of that size; and the longest task of our own script. Needs
 * a running Yarvo, to which it gives a character and a motion.
 */
const { values } = parseArgs({
  options: {
    url: { type: 'string', default: 'http://127.0.0.1:4310' },
    vertices: { type: 'string', default: '12000' },
    seconds: { type: 'string', default: '8' },
  },
});
const SECONDS = Number(values.seconds);
const SIZE = 64;

const motion = await writeFigureGlb({ ...PLAIN_FIGURE, axes: 2 }, { ...LIVELY, seconds: 10, framesPerSecond: 60 });
const character = await largeCharacter(Number(values.vertices));
const carried = await carryBytes(motion, character);

const browser = await chromium.launch(config.use?.launchOptions);
const page = await browser.newPage({ baseURL: values.url, viewport: { width: 1280, height: 800 } });
const stamp = Date.now();

async function take(name: string, bytes: Uint8Array): Promise<string> {
  const answer = await page.request.post('/api/characters', {
    multipart: { file: { name: `${name}.glb`, mimeType: 'model/gltf-binary', buffer: Buffer.from(bytes) } },
  });
  if (!answer.ok()) throw new Error(`not taken in: ${answer.status()}`);
  for (let tries = 0; tries < 240; tries++) {
    const { characters } = (await (await page.request.get('/api/characters?size=500')).json()) as {
      characters: { id: string; fileName: string }[];
    };
    const found = characters.find(({ fileName }) => fileName === `${name}.glb`);
    if (found) return found.id;
    await page.waitForTimeout(250);
  }
  throw new Error(`${name} did not arrive`);
}

/** Work of a drawn frame, and the longest task of the page's own script, milliseconds. */
async function workOf(at: Page): Promise<{ perFrame: number; frames: number; longest: number }> {
  const session = await at.context().newCDPSession(at);
  await session.send('Performance.enable');
  const metrics = async () => {
    const all = (await session.send('Performance.getMetrics')).metrics;
    return all.find(({ name }) => name === 'TaskDuration')?.value ?? 0;
  };
  const frames = () => at.evaluate(() => (window as unknown as { drawnFrames: number }).drawnFrames);
  const [work, count] = [await metrics(), await frames()];
  await at.waitForTimeout(SECONDS * 1000);
  const [workAfter, countAfter] = [await metrics(), await frames()];
  const tasks = mainThreadTasks(await trace(session, at));
  return {
    perFrame: ((workAfter - work) * 1000) / (countAfter - count),
    frames: countAfter - count,
    longest: Math.max(0, ...tasks.map(({ own }) => own)),
  };
}

async function trace(session: CDPSession, at: Page): Promise<TraceEvent[]> {
  const events: TraceEvent[] = [];
  session.on('Tracing.dataCollected', ({ value }) => events.push(...(value as unknown as TraceEvent[])));
  await session.send('Tracing.start', { categories: 'toplevel,devtools.timeline,v8', transferMode: 'ReportEvents' });
  await at.waitForTimeout(3000);
  const done = new Promise<void>((resolve) => session.once('Tracing.tracingComplete', () => resolve()));
  await session.send('Tracing.end');
  await done;
  return events;
}

/** Counts frames in which the page drew at all: each WebGL draw belongs to one. */
const COUNTER = `
  window.drawnFrames = 0;
  let isCounted = false;
  for (const name of ['drawElements', 'drawArrays']) {
    const own = WebGL2RenderingContext.prototype[name];
    WebGL2RenderingContext.prototype[name] = function (...given) {
      if (!isCounted) {
        isCounted = true;
        window.drawnFrames++;
        requestAnimationFrame(() => { isCounted = false; });
      }
      return own.apply(this, given);
    };
  }
`;
await page.addInitScript(COUNTER);
const [motionId, characterId] = [
  await take(`playing-motion-${stamp}`, motion),
  await take(`playing-figure-${stamp}`, character),
];
const shelved = (await (await page.request.post('/api/motions', { data: { characterId: motionId } })).json()) as {
  motions: { id: string }[];
};
await page.goto(`/characters/${characterId}/drill?motion=${shelved.motions[0].id}&source=off&mesh=solid&view=free`);
await page.locator('[data-stage="ready"]').waitFor();
await page.getByRole('group', { name: 'Playback' }).waitFor();
// By the element's own style: a style sheet of the page's own is what the security policy is there to refuse.
await page
  .locator('[data-stage] > div')
  .first()
  .evaluate((element, size) => {
    Object.assign((element as HTMLElement).style, {
      position: 'fixed',
      left: '0',
      top: '0',
      width: `${size}px`,
      height: `${size}px`,
      flex: 'none',
    });
  }, SIZE);
await page.waitForTimeout(1000);
await page.getByRole('button', { name: 'Play (Space)' }).click();
await page.waitForTimeout(3000);
const ours = await workOf(page);
await page.close();

const bundle = await build({
  stdin: {
    resolveDir: process.cwd(),
    contents: `
      import * as three from 'three';
      import { GLTFLoader } from 'three/addons/loaders/GLTFLoader.js';
      const renderer = new three.WebGLRenderer({ antialias: false });
      renderer.setSize(${SIZE}, ${SIZE});
      document.body.append(renderer.domElement);
      const scene = new three.Scene();
      scene.add(new three.HemisphereLight(0xffffff, 0xb9b2a4, 2), new three.DirectionalLight(0xffffff, 1.6));
      const camera = new three.PerspectiveCamera(32, 1, 0.1, 50);
      camera.position.set(0, 1, 5);
      const clock = new three.Clock();
      new GLTFLoader().load('/carried.glb', ({ scene: model, animations }) => {
        scene.add(model);
        model.traverse((object) => { object.frustumCulled = false; });
        const mixer = new three.AnimationMixer(model);
        mixer.clipAction(animations[0]).play();
        const draw = () => {
          requestAnimationFrame(draw);
          mixer.update(clock.getDelta());
          renderer.render(scene, camera);
        };
        draw();
        document.body.dataset.ready = 'yes';
      });
    `,
  },
  bundle: true,
  write: false,
  format: 'esm',
});
const bare = await browser.newPage({ baseURL: values.url, viewport: { width: 1280, height: 800 } });
await bare.addInitScript(COUNTER);
await bare.route('**/carried.glb', (route) =>
  route.fulfill({ contentType: 'model/gltf-binary', body: Buffer.from(carried.glb) }),
);
await bare.route('**/bare', (route) =>
  route.fulfill({
    contentType: 'text/html',
    body: `<body><script type="module">${bundle.outputFiles[0].text.replaceAll('</script', '<\\/script')}</script></body>`,
  }),
);
await bare.goto('/bare');
await bare.locator('body[data-ready]').waitFor();
await bare.waitForTimeout(3000);
const theirs = await workOf(bare);
process.stdout.write(
  `${carried.plan.driven.length} bones driven; ${SIZE} x ${SIZE} pixels; a frame costs the main thread ${ours.perFrame.toFixed(2)} ms in the Drill (${ours.frames} frames in ${SECONDS} s), ${theirs.perFrame.toFixed(2)} ms in a bare scene (${theirs.frames} frames), ratio ${(ours.perFrame / theirs.perFrame).toFixed(2)}; longest task of the Drill's own script ${ours.longest.toFixed(1)} ms\n`,
);
await browser.close();
