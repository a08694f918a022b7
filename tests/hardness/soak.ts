import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { connect, type Socket } from 'node:net';
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
  /** Whether the web server also hangs and the database stands still for 30 s in between. */
  readonly hasStandstills?: boolean;
  /** Readers of the jobs' events that never read. */
  readonly idleReaders?: number;
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
  /** Boards whose characters were deleted under them, all of which came to an end. */
  readonly boards: number;
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
const STANDSTILL_SECONDS = 30;
/** Noticed within 30 s of its running time; starting takes some more, and the machine is under load. */
const REPLACED_MS = 60_000;
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
    loop('boards', async (turn) => {
      await ledger.boardUnderDeletion(`board-${turn}.glb`, lamp);
      await wait(500);
    }),
    loop('damaged files', async (turn) => {
      const seed = seeds[turn % seeds.length];
      await ledger.sendDamaged(`hurt-${turn}-${seed.path}`, damage(seed, randomFrom(turn)));
      await wait(300);
    }),
  ];

  const readers = Array.from({ length: options.idleReaders ?? 0 }, () => idleReader(yarvo.port));
  const standStill = async (): Promise<void> => {
    const pid = await yarvo.pidOf('database');
    process.kill(pid, 'SIGSTOP');
    try {
      for (let second = 0; second < STANDSTILL_SECONDS; second++) {
        const health = await yarvo.health();
        if (!health) complaints.push('while the database stood still, health said nothing in six seconds');
        else if (second > 5 && health.database !== 'away')
          complaints.push(`while the database stood still, health said that it is ${health.database}`);
        await wait(1_000);
      }
    } finally {
      process.kill(pid, 'SIGCONT');
    }
    slowestReturnMs = Math.max(slowestReturnMs, await yarvo.whenAnswering());
  };

  for (let turn = 0; turn < options.kills; turn++) {
    if (options.hasStandstills && turn % VICTIMS.length === 0) {
      await wait(options.secondsBetweenKills * 1000);
      if ((turn / VICTIMS.length) % 2 === 0) {
        say('the web server hangs ...');
        await yarvo.hang();
        const back = await yarvo.whenReplaced();
        say(`it was replaced and answers after ${(back / 1000).toFixed(1)} s`);
        if (back > REPLACED_MS) complaints.push(`a web server that hung was replaced after ${Math.round(back)} ms`);
      } else {
        say('the database stands still ...');
        await standStill();
      }
    }
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
  for (const reader of readers) reader.destroy();
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
    boards: ledger.boardCount,
    kills,
    slowestStartMs,
    slowestReturnMs,
    webMegabytes: [Math.max(0, ...samples.slice(0, third)), Math.max(0, ...samples.slice(-third))].map(Math.round) as [
      number,
      number,
    ],
  };
}

/** A connection that asks for the jobs' events and reads nothing of them; opened again where it is cut off. */
function idleReader(port: number): { destroy: () => void } {
  let socket: Socket | null = null;
  let isOver = false;
  const open = () => {
    if (isOver) return;
    socket = connect({ host: '127.0.0.1', port }, () =>
      socket?.write(`GET /api/jobs/events HTTP/1.1\r\nHost: 127.0.0.1:${port}\r\n\r\n`),
    );
    socket.pause();
    socket.on('error', () => undefined);
    socket.on('close', () => setTimeout(open, 1_000));
  };
  open();
  return {
    destroy: () => {
      isOver = true;
      socket?.destroy();
    },
  };
}

const sha256 = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');
