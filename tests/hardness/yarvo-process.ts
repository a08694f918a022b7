import { spawn, type ChildProcess } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';

const ROOT = path.resolve(import.meta.dirname, '../..');
const START_MS = 300_000;
const HANG_ON_SIGNAL = path.join(import.meta.dirname, 'hang-on-signal.cjs');

export type Victim = 'web' | 'database' | 'supervisor';

/** A real Yarvo on data of its own, on loopback, that can be killed piece by piece. */
export class YarvoProcess {
  private child: ChildProcess | null = null;
  /** What the supervisor printed. */
  said = '';

  constructor(
    readonly data: string,
    readonly port: number,
    private readonly environment: Readonly<Record<string, string>> = {},
  ) {}

  get url(): string {
    return `http://127.0.0.1:${this.port}`;
  }

  /** Starts it and waits until it answers. @returns how long that took, milliseconds. */
  async start(): Promise<number> {
    const started = performance.now();
    const child = spawn('./start', ['--port', String(this.port), '--data', this.data, '--no-demo'], {
      cwd: ROOT,
      stdio: ['ignore', 'pipe', 'pipe'],
      env: {
        ...withoutSettings(process.env),
        NODE_OPTIONS: `${process.env.NODE_OPTIONS ?? ''} --require=${HANG_ON_SIGNAL}`.trim(),
        ...this.environment,
      },
    });
    for (const stream of [child.stdout, child.stderr])
      stream.on('data', (chunk: Buffer) => {
        this.said = (this.said + chunk.toString()).slice(-20_000);
      });
    this.child = child;
    while (!(await this.answers())) {
      if (child.exitCode !== null) throw new Error(`./start ended with ${child.exitCode}: ${this.said}`);
      if (performance.now() - started > START_MS) throw new Error(`./start does not answer: ${this.said}`);
      await wait(50);
    }
    return performance.now() - started;
  }

  /** Whether it answers with its database. */
  async answers(): Promise<boolean> {
    const answer = await fetch(`${this.url}/api/health`).then(
      (response) => response.json(),
      () => null,
    );
    return (answer as { database?: string } | null)?.database === 'there';
  }

  /** Waits until it answers again. @returns milliseconds. */
  async whenAnswering(): Promise<number> {
    const started = performance.now();
    while (!(await this.answers())) {
      if (performance.now() - started > START_MS) throw new Error(`it does not come back: ${this.said}`);
      await wait(50);
    }
    return performance.now() - started;
  }

  /** Waits until the web server is another process, which answers. @returns milliseconds. */
  async whenReplaced(): Promise<number> {
    const started = performance.now();
    const before = await this.pidOf('web');
    for (;;) {
      const isOther = (await this.pidOf('web').catch(() => before)) !== before;
      if (isOther && (await this.health(1_000))?.database === 'there') return performance.now() - started;
      if (performance.now() - started > START_MS) throw new Error(`it is not replaced: ${this.said}`);
      await wait(100);
    }
  }

  async pidOf(victim: Victim): Promise<number> {
    if (victim === 'supervisor') return this.child?.pid as number;
    const note = await readFile(path.join(this.data, `${victim}-process`), 'utf8');
    return Number(note.split(' ')[0]);
  }

  async kill(victim: Victim, signal: NodeJS.Signals = 'SIGKILL'): Promise<void> {
    const pid = await this.pidOf(victim);
    try {
      process.kill(pid, signal);
    } catch {
      // It is being started again at this moment: the next kill will find it.
    }
    if (victim === 'supervisor') await this.ended();
  }

  /** Makes the web server hang: it runs, and answers nobody any more. */
  hang = (): Promise<void> => this.kill('web', 'SIGUSR2');

  /** What health says, and how long that took; null where nothing was said in time. */
  async health(patienceMs = 6_000): Promise<{ readonly database: string; readonly tookMs: number } | null> {
    const started = performance.now();
    const answer = await fetch(`${this.url}/api/health`, { signal: AbortSignal.timeout(patienceMs) })
      .then((response) => response.json() as Promise<{ database: string }>)
      // Also where it hangs in the middle of its answer.
      .catch(() => null);
    return answer && { database: answer.database, tookMs: performance.now() - started };
  }

  /** Asks it to end; a closed terminal sends SIGHUP. @returns its exit code. */
  async stop(signal: NodeJS.Signals = 'SIGTERM'): Promise<number | null> {
    this.child?.kill(signal);
    return this.ended();
  }

  private ended(): Promise<number | null> {
    const { child } = this;
    if (!child || child.exitCode !== null || child.signalCode !== null) return Promise.resolve(child?.exitCode ?? null);
    return new Promise((resolve) => child.once('exit', (code) => resolve(code)));
  }
}

/** A test run has settings of its own, for a database that is not this one's. */
const withoutSettings = (environment: NodeJS.ProcessEnv): NodeJS.ProcessEnv =>
  Object.fromEntries(Object.entries(environment).filter(([name]) => !name.startsWith('YARVO_'))) as NodeJS.ProcessEnv;

/** Memory of a process that is in use, bytes; 0 for one that is gone. */
export function residentBytes(pid: number): number {
  try {
    return Number(/^VmRSS:\s+(\d+) kB/m.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0) * 1024;
  } catch {
    return 0;
  }
}
