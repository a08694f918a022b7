import { randomUUID } from 'node:crypto';
import { EventEmitter } from 'node:events';
import { processWide } from '../settings/process-wide';
import type { JobNews } from './job-queue';

/** A change of a job under its number: they count up for as long as this process runs. */
export interface NumberedNews {
  readonly number: number;
  readonly news: JobNews;
}

/** Jobs whose last change is known to who comes back; one who missed more asks for all. */
const MOST_KNOWN = 2_000;

/** Jobs that changed, for whoever listens in this process. */
class JobFeed {
  /** Numbers of another process say nothing here. */
  readonly epoch = randomUUID().slice(0, 8);
  private readonly emitter = new EventEmitter().setMaxListeners(0);
  private readonly latest = new Map<string, NumberedNews>();
  private last = 0;
  /** Changes up to this number may be forgotten. */
  private forgotten = 0;

  tell(news: JobNews): void {
    const numbered = { number: ++this.last, news };
    // What changed last stands last.
    this.latest.delete(news.id);
    this.latest.set(news.id, numbered);
    if (this.latest.size > MOST_KNOWN) {
      const [[id, { number }]] = this.latest;
      this.latest.delete(id);
      this.forgotten = number;
    }
    this.emitter.emit('news', numbered);
  }

  listen(listener: (numbered: NumberedNews) => void): () => void {
    this.emitter.on('news', listener);
    return () => void this.emitter.off('news', listener);
  }

  /** The last change of each job that changed after a number; null where some of that is forgotten. */
  since(number: number): readonly NumberedNews[] | null {
    if (number < this.forgotten || number > this.last) return null;
    return [...this.latest.values()].filter((numbered) => numbered.number > number);
  }
}

export const jobFeed = (): JobFeed => processWide('job feed', () => new JobFeed());

export const tellJob = (news: JobNews): void => jobFeed().tell(news);

/** @returns how to stop listening. */
export const onJob = (listen: (news: JobNews) => void): (() => void) => jobFeed().listen(({ news }) => listen(news));
