import { readFileSync } from 'node:fs';
import { parseArgs } from 'node:util';

/**
 * `npx tsx bench/checks/board.ts --app http://127.0.0.1:4310 [--count 200]`: fills a running Yarvo up to that many characters
 * with copies of the cast, checks all of them on the board, and asks for something else all the while: how long the board
 * takes, how soon its first line is there, and how long anybody else waits, against waiting on an idle server. Use it on
 * data that may go.
 */
const { values } = parseArgs({
  options: { app: { type: 'string', default: 'http://127.0.0.1:4310' }, count: { type: 'string', default: '200' } },
});
const { app } = values;
const wanted = Number(values.count);
const FILES = ['lamplighter.glb', 'eel-seller.glb', 'net-mender.glb', 'harbour-diver.glb', 'otter-stevedore.glb'];

async function charactersOf(): Promise<string[]> {
  const found: string[] = [];
  for (let page = 1; ; page++) {
    const answer = await fetch(`${app}/api/characters?size=100&page=${page}`);
    const { characters } = (await answer.json()) as { characters: { id: string; kind: string }[] };
    found.push(...characters.filter(({ kind }) => kind === 'character').map(({ id }) => id));
    if (characters.length < 100) return found;
  }
}

async function fill(): Promise<string[]> {
  for (let round = 0; (await charactersOf()).length < wanted; round++) {
    for (const file of FILES)
      await fetch(`${app}/api/characters?name=${round}-${file}`, {
        method: 'POST',
        headers: { 'content-type': 'application/octet-stream' },
        body: readFileSync(`demo/files/${file}`),
      });
    await new Promise((resolve) => setTimeout(resolve, 500));
  }
  return (await charactersOf()).slice(0, wanted);
}

/** Longest and middle wait for an answer, again and again until `isOver`, milliseconds. */
async function waits(isOver: () => boolean): Promise<{ readonly longest: number; readonly middle: number }> {
  const took: number[] = [];
  while (!isOver()) {
    const start = performance.now();
    await (await fetch(`${app}/api/characters?size=20`)).arrayBuffer();
    took.push(performance.now() - start);
    await new Promise((resolve) => setTimeout(resolve, 20));
  }
  took.sort((a, b) => a - b);
  return { longest: took.at(-1) ?? 0, middle: took[took.length >> 1] ?? 0 };
}

const ids = await fill();
const idleUntil = performance.now() + 5_000;
const idle = await waits(() => performance.now() > idleUntil);
for (const round of ['first time', 'again']) {
  let isDone = false;
  const others = waits(() => isDone);
  const start = performance.now();
  const answer = await fetch(`${app}/api/checks?characters=${ids.join(',')}`);
  const reader = answer.body?.getReader();
  let [first, lines] = [0, 0];
  for (let part = await reader?.read(); part && !part.done; part = await reader?.read()) {
    first ||= performance.now() - start;
    lines += part.value.filter((byte) => byte === 10).length;
  }
  const whole = performance.now() - start;
  isDone = true;
  const busy = await others;
  const ms = (value: number): string => `${value.toFixed(0)} ms`;
  process.stdout.write(
    `${lines} characters, ${round}: first line after ${ms(first)}, all after ${ms(whole)} (${ms(whole / lines)} each); ` +
      `a list of the roster meanwhile ${ms(busy.middle)}, at most ${ms(busy.longest)} (idle ${ms(idle.middle)}, at most ${ms(idle.longest)})\n`,
  );
}
