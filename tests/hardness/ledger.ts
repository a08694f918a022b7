import { randomUUID } from 'node:crypto';
import { setTimeout as wait } from 'node:timers/promises';

interface Sent {
  readonly character: string;
  /** Revision that the server said it became; null while no answer came, or it was refused. */
  revision: number | null;
}

interface FitAnswer {
  readonly fit?: { readonly revision: number; readonly history: readonly { revision: number; author: string }[] };
  readonly error?: { readonly code: string; readonly message: string };
}

interface JobAnswer {
  readonly state: string;
  readonly updatedAt: string;
  readonly result: unknown;
  readonly problem: { readonly code: string; readonly message: string } | null;
}

const AGAIN_MS = 150;
const LOOK_MS = 50;
const PATIENCE_MS = 180_000;

/** What was sent and what was acknowledged, kept outside of Yarvo, to be held against what Yarvo has in the end. */
export class Ledger {
  /** By author: each change is made under a name of its own, so that the history tells which one it is. */
  private readonly sent = new Map<string, Sent>();
  private readonly revisions = new Map<string, number>();
  private readonly names = new Map<string, string>();
  private readonly packs = new Map<string, number[]>();
  acknowledgedCount = 0;
  refusedCount = 0;
  handoffCount = 0;
  boardCount = 0;

  constructor(private readonly url: string) {}

  characterIds = (): string[] => [...this.revisions.keys()];

  /** Sends a file until it is answered. */
  async upload(name: string, bytes: Uint8Array): Promise<void> {
    const answer = await this.insist(`/api/characters?name=${encodeURIComponent(name)}`, {
      method: 'POST',
      body: bytes as BodyInit,
      headers: { 'content-type': 'application/octet-stream' },
    });
    if (answer.status !== 202) throw new Error(`${name}: ${answer.status} ${JSON.stringify(answer.body)}`);
    const job = await this.jobOver(answer.body);
    if (job.state !== 'done') throw new Error(`${name}: ${JSON.stringify(job)}`);
    const [character] = (job.result as { characters: { id: string; name: string }[] }).characters;
    this.revisions.set(character.id, 0);
    this.names.set(character.id, name);
  }

  /** Makes a change, or undoes one's own last step. Behind a newer fit it is made again, as a person would. */
  async change(character: string, author: string, action: object | null): Promise<void> {
    const entry: Sent = { character, revision: null };
    this.sent.set(author, entry);
    const changeId = randomUUID();
    for (let tries = 0; tries < 50; tries++) {
      const baseRevision = this.revisions.get(character) ?? 0;
      const path = `/api/characters/${character}/fit/${action ? 'changes' : 'undo'}`;
      const body = JSON.stringify({
        baseRevision,
        changeId: tries === 0 ? changeId : randomUUID(),
        ...(action ? { action } : { whose: 'anyone' }),
      });
      const answer = await this.insist(path, {
        method: 'POST',
        body,
        headers: { 'content-type': 'application/json', cookie: `yarvo-who=${author}` },
      });
      const { fit, error } = answer.body as FitAnswer;
      if (fit) this.revisions.set(character, Math.max(this.revisions.get(character) ?? 0, fit.revision));
      if (answer.status === 200 && fit) {
        entry.revision = fit.history.find((row) => row.author === author)?.revision ?? -1;
        this.acknowledgedCount++;
        return;
      }
      if (error?.code === 'conflict') continue;
      if (answer.status >= 500) throw new Error(`${author}: ${answer.status} ${error?.message}`);
      // Nothing to do, or not possible: refused in words, and that is that.
      return;
    }
  }

  /** Hands a character off; a blocker or another handoff is an answer too. */
  async handOff(character: string): Promise<void> {
    const answer = await this.insist(`/api/characters/${character}/handoffs?job=${randomUUID()}`, {
      method: 'POST',
      headers: { cookie: 'yarvo-who=hand' },
    });
    if (answer.status >= 500) throw new Error(`handoff: ${answer.status} ${JSON.stringify(answer.body)}`);
    if (answer.status !== 202) return;
    const job = await this.jobOver(answer.body);
    if (job.state !== 'done') return this.assertRefused('handoff', job);
    const { version } = job.result as { version: number };
    this.packs.set(character, [...(this.packs.get(character) ?? []), version]);
    this.handoffCount++;
  }

  /** Carries motions to a character and one that is deleted meanwhile: the job comes to its end and names what is gone. */
  async boardUnderDeletion(name: string, bytes: Uint8Array): Promise<void> {
    const before = new Set(this.characterIds());
    await this.upload(name, bytes);
    const made = this.characterIds().find((id) => !before.has(id)) as string;
    const [other] = before;
    const jobId = randomUUID();
    const body = JSON.stringify({
      characterIds: [made, other],
      motionKeys: ['house-idle', 'house-turn', 'house-crouch'],
      jobId,
    });
    const answer = await this.insist('/api/board', {
      method: 'POST',
      body,
      headers: { 'content-type': 'application/json' },
    });
    if (answer.status !== 202) throw new Error(`board: ${answer.status} ${JSON.stringify(answer.body)}`);
    this.forget(made);
    await this.insist(`/api/characters/${made}`, { method: 'DELETE' });
    const job = await this.jobOver(answer.body);
    if (job.state !== 'done') throw new Error(`board: ${JSON.stringify(job)}`);
    this.boardCount++;
  }

  /** Of a character that is deleted nothing is compared in the end. */
  private forget(character: string): void {
    this.revisions.delete(character);
    this.names.delete(character);
    this.packs.delete(character);
    for (const [author, { character: of }] of this.sent) if (of === character) this.sent.delete(author);
  }

  /** A damaged file is read or refused; it never takes the server with it. */
  async sendDamaged(name: string, bytes: Uint8Array): Promise<void> {
    const { status, problem } = await this.problemOf(name, bytes);
    if (status >= 500 || problem?.code === 'unexpected') throw new Error(`${name}: ${JSON.stringify(problem)}`);
    if (problem) this.refusedCount++;
  }

  /** Sends a file and waits for what becomes of it. @returns why it was refused; null where it was not. */
  async problemOf(name: string, bytes: Uint8Array): Promise<{ status: number; problem: JobAnswer['problem'] }> {
    const { status, body } = await this.insist(`/api/characters?name=${encodeURIComponent(name)}`, {
      method: 'POST',
      body: bytes as BodyInit,
      headers: { 'content-type': 'application/octet-stream' },
    });
    if (status !== 202) return { status, problem: (body as { error: JobAnswer['problem'] }).error };
    return { status, problem: (await this.jobOver(body)).problem };
  }

  /** Waits for the job that an answer names. */
  private async jobOver(body: unknown): Promise<JobAnswer> {
    const { id } = (body as { job: { id: string } }).job;
    // A long job lets others go between its parts: it hangs when nothing of it moves, not when it takes long.
    let [until, moved] = [Date.now() + PATIENCE_MS, ''];
    for (;;) {
      const answer = await this.insist(`/api/jobs/${id}`, {});
      const { job } = answer.body as { job?: JobAnswer };
      if (!job) throw new Error(`lost: job ${id} that was acknowledged`);
      if (['done', 'failed', 'cancelled'].includes(job.state)) return job;
      if (job.updatedAt !== moved) [until, moved] = [Date.now() + PATIENCE_MS, job.updatedAt];
      if (Date.now() > until) throw new Error(`job ${id} is never done: ${JSON.stringify(job)}`);
      await wait(LOOK_MS);
    }
  }

  private assertRefused(what: string, { problem }: JobAnswer): void {
    if (!problem || problem.code === 'unexpected') throw new Error(`${what}: ${JSON.stringify(problem)}`);
  }

  /** Sends a request again until the server and its database answer. */
  private async insist(path: string, init: RequestInit): Promise<{ status: number; body: unknown }> {
    for (const until = Date.now() + PATIENCE_MS; ;) {
      try {
        const response = await fetch(this.url + path, init);
        const body = (await response.json()) as unknown;
        if (response.status !== 503) return { status: response.status, body };
      } catch {
        // Cut off: whether it was done is not known, so it is sent again under the same name.
      }
      if (Date.now() > until) throw new Error(`no answer for ${path}`);
      await wait(AGAIN_MS);
    }
  }

  /** Holds everything against what Yarvo has. @returns what does not agree. */
  async audit(): Promise<string[]> {
    const complaints: string[] = [];
    const found = new Map<string, number>();
    for (const id of this.characterIds()) {
      const revisions: number[] = [];
      for (const { revision, author } of await this.historyOf(id)) {
        revisions.push(revision);
        if (revision === 0) continue;
        if (found.has(author)) complaints.push(`doubled: ${author} stands twice in ${id}`);
        found.set(author, revision);
        const sent = this.sent.get(author);
        if (!sent || sent.character !== id) complaints.push(`invented: ${author} in ${id}`);
        else if (sent.revision !== null && sent.revision !== -1 && sent.revision !== revision)
          complaints.push(`moved: ${author} was acknowledged as ${sent.revision} and is ${revision}`);
      }
      if (revisions.some((revision, at) => revision !== revisions.length - 1 - at))
        complaints.push(`gap: the revisions of ${id} are ${revisions.join(' ')}`);
    }
    for (const [author, { revision, character }] of this.sent)
      if (revision !== null && this.revisions.has(character) && !found.has(author))
        complaints.push(`lost: ${author} in ${character}`);
    const characters = await this.allCharacters();
    if (new Set(characters.map(({ name }) => name)).size !== characters.length)
      complaints.push('two characters have one name');
    for (const [id, name] of this.names) {
      const same = characters.filter(({ fileName }) => fileName === name);
      if (!same.some((character) => character.id === id)) complaints.push(`lost: the character of ${name}`);
      if (same.length > 1) complaints.push(`doubled: ${same.length} characters of ${name}`);
    }
    for (const [id, versions] of this.packs)
      for (const version of versions) {
        const response = await fetch(`${this.url}/api/characters/${id}/handoffs/${version}/pack`);
        if (!response.ok || (await response.arrayBuffer()).byteLength === 0)
          complaints.push(`lost: pack ${version} of ${id}`);
      }
    return complaints;
  }

  private async allCharacters(): Promise<{ id: string; fileName: string; name: string }[]> {
    const all: { id: string; fileName: string; name: string }[] = [];
    for (let page = 1; ; page++) {
      const { characters, total } = (await (
        await fetch(`${this.url}/api/characters?size=500&page=${page}`)
      ).json()) as { characters: typeof all; total: number };
      all.push(...characters);
      if (characters.length === 0 || all.length >= total) return all;
    }
  }

  /** All steps of a character, newest first. */
  private async historyOf(id: string): Promise<{ revision: number; author: string }[]> {
    const rows: { revision: number; author: string }[] = [];
    for (let before = 1_000_000; before > 0;) {
      const { history } = (await (
        await fetch(`${this.url}/api/characters/${id}/fit/history?before=${before}`)
      ).json()) as { history: { revision: number; author: string }[] };
      rows.push(...history);
      before = history.length === 0 ? 0 : history[history.length - 1].revision;
    }
    return rows;
  }
}
