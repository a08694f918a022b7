import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { damage, randomFrom } from '../fuzz/damage';
import { makeSeeds } from '../fuzz/seeds';
import { Ledger } from './ledger';
import { residentBytes, type Victim, type YarvoProcess } from './yarvo-process';

export interface SoakOptions {
  readonly characters: number;
  readonly writers: number;
  /** How often one of the processes is killed, in turn. */
  readonly kills: number;
  readonly secondsBetweenKills: number;
  /** After the last kill: memory is looked at while nothing is started anew. */
  readonly quietSeconds: number;
  readonly say: (text: string) => void;
}

export interface SoakReport {
  /** What is wrong; empty where everything held. */
  readonly complaints: readonly string[];
  readonly acknowledged: number;
  readonly uploads: number;
  readonly refused: number;
  readonly handoffs: number;
  readonly kills: Readonly<Record<Victim, number>>;
  /** Slowest start of the whole, and slowest return of a killed part, milliseconds. */
  readonly slowestStartMs: number;
  readonly slowestReturnMs: number;
  /** Memory of the web server in the quiet time, megabytes: first third, last third. */
  readonly webMegabytes: readonly [number, number];
}

const ROLES = [
  'jaw',
  'leftEye',
  'rightEye',
  'neck',
  'chest',
  'leftToes',
  'rightToes',
  'leftShoulder',
  'rightShoulder',
  'head',
];
const VICTIMS: readonly Victim[] = ['web', 'database', 'supervisor'];
const CHANGED_HARDLY_MS = 30;
const demo = (name: string) => readFile(path.resolve(import.meta.dirname, '../../demo/files', name));

/**
 * Several people change, add and hand off characters while the parts of Yarvo are killed in turn. Every request is sent
 * again until it is answered, as the interface does. In the end the histories must hold every change that was
 * acknowledged, once, and no other.
 */
export async function runSoak(yarvo: YarvoProcess, options: SoakOptions): Promise<SoakReport> {
  const { characters, writers, say } = options;
  const ledger = new Ledger(yarvo.url);
  const complaints: string[] = [];
  const kills: Record<Victim, number> = { web: 0, database: 0, supervisor: 0 };
  let slowestStartMs = await yarvo.start();
  let slowestReturnMs = 0;
  let isOver = false;
  const lamp = await demo('lamplighter.glb');
  say(`adding ${characters} characters ...`);
  for (let made = 0; made < characters; made++) await ledger.upload(`soak-${made}.glb`, lamp);

  const loop = async (name: string, work: (turn: number) => Promise<void>) => {
    for (let turn = 0; !isOver; turn++) {
      try {
        await work(turn);
      } catch (error) {
        complaints.push(`${name}: ${(error as Error).message}`);
        return;
      }
    }
  };
  const random = randomFrom(11);
  const pick = <Item>(items: readonly Item[]): Item => items[Math.floor(random() * items.length)];
  const write = (writer: number) =>
    loop(`writer ${writer}`, async (turn) => {
      const id = pick(ledger.characterIds());
      const action =
        turn % 5 === 0
          ? { kind: 'align-posture' }
          : pick([
              { kind: 'clear', role: pick(ROLES) },
              { kind: 'leave-vacant', role: pick(ROLES) },
              { kind: 'rematch' },
            ]);
      await ledger.change(id, `writer-${writer}-${turn}`, turn % 11 === 10 ? null : action);
      await wait(CHANGED_HARDLY_MS);
    });
  const seeds = Object.values(await makeSeeds());
  const work = [
    ...Array.from({ length: writers }, (_, writer) => write(writer)),
    loop('uploads', async (turn) => {
      await ledger.upload(`late-${turn}.glb`, lamp);
      await wait(400);
    }),
    loop('handoffs', async () => {
      await ledger.handOff(pick(ledger.characterIds()));
      await wait(300);
    }),
    loop('damaged files', async (turn) => {
      const seed = seeds[turn % seeds.length];
      await ledger.sendDamaged(`hurt-${turn}-${seed.path}`, damage(seed, randomFrom(turn)));
      await wait(300);
    }),
  ];

  for (let turn = 0; turn < options.kills; turn++) {
    await wait(options.secondsBetweenKills * 1000);
    const victim = VICTIMS[turn % VICTIMS.length];
    await yarvo.kill(victim);
    kills[victim]++;
    const back = victim === 'supervisor' ? await yarvo.start() : await yarvo.whenAnswering();
    if (victim === 'supervisor') slowestStartMs = turn < VICTIMS.length ? back : Math.max(slowestStartMs, back);
    else slowestReturnMs = Math.max(slowestReturnMs, back);
    say(
      `killed the ${victim}: back after ${(back / 1000).toFixed(1)} s; ${ledger.acknowledgedCount} changes acknowledged`,
    );
  }
  const samples: number[] = [];
  for (const end = Date.now() + options.quietSeconds * 1000; Date.now() < end; await wait(1000))
    samples.push(residentBytes(await yarvo.pidOf('web')) / 1024 / 1024);
  isOver = true;
  await Promise.all(work);
  say('comparing every history ...');
  complaints.push(...(await ledger.audit()));
  const original = new Uint8Array(
    await (await fetch(`${yarvo.url}/api/characters/${ledger.characterIds()[0]}/file`)).arrayBuffer(),
  );
  if (sha256(original) !== sha256(lamp)) complaints.push('an original file is not what was sent');
  const third = Math.ceil(samples.length / 3);
  return {
    complaints,
    acknowledged: ledger.acknowledgedCount,
    uploads: ledger.characterIds().length,
    refused: ledger.refusedCount,
    handoffs: ledger.handoffCount,
    kills,
    slowestStartMs,
    slowestReturnMs,
    webMegabytes: [Math.max(0, ...samples.slice(0, third)), Math.max(0, ...samples.slice(-third))].map(Math.round) as [
      number,
      number,
    ],
  };
}

const sha256 = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');
