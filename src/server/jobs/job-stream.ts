import { shownTexts } from '@/core/text/shown-text';
import { jobFeed, type NumberedNews } from './job-events';

/** Proxies and browsers give up on a stream that says nothing. */
const PING_MS = 15_000;
/** What may wait for a reader. One that is further behind is cut off; it comes back and catches up by number. */
const MOST_WAITING_BYTES = 64 * 1024;

/** Each change is written out once, for however many listen. */
const written = new WeakMap<NumberedNews, Uint8Array>();

function bytesOf(numbered: NumberedNews): Uint8Array {
  const known = written.get(numbered);
  if (known) return known;
  const { number, news } = numbered;
  // A block with nothing but a number is no event; it only says up to where the reader has heard.
  const text = `event: job\ndata: ${JSON.stringify(shownTexts(news))}\n\nid: ${jobFeed().epoch}-${number}\n\n`;
  const bytes = new TextEncoder().encode(text);
  written.set(numbered, bytes);
  return bytes;
}

/**
 * Jobs as they change, as server-sent events. Who was cut off says what it saw last: it is told the last change of each
 * job since then, or, where that is not known any more, an event `missed`, after which it asks for what it needs.
 *
 * @param lastId as the browser sends it back; null for one who comes for the first time.
 */
export function jobStream(lastId: string | null, signal: AbortSignal): ReadableStream<Uint8Array> {
  const encoder = new TextEncoder();
  let stop = () => undefined as void;
  return new ReadableStream<Uint8Array>(
    {
      start(controller) {
        const send = (bytes: Uint8Array): void => {
          if ((controller.desiredSize ?? 0) < bytes.length) {
            stop();
            controller.close();
          } else controller.enqueue(bytes);
        };
        const stopListening = jobFeed().listen((numbered) => send(bytesOf(numbered)));
        const ping = setInterval(() => send(encoder.encode(': still here\n\n')), PING_MS);
        ping.unref();
        let isStopped = false;
        stop = () => {
          if (isStopped) return;
          isStopped = true;
          stopListening();
          clearInterval(ping);
        };
        signal.addEventListener('abort', stop, { once: true });
        controller.enqueue(encoder.encode(': listening\n\n'));
        const missed = lastId === null ? [] : missedSince(lastId);
        if (missed === null) controller.enqueue(encoder.encode('event: missed\ndata: {}\n\n'));
        // Not more at once than may wait: the rest is asked for.
        else for (const numbered of missed) controller.enqueue(bytesOf(numbered));
      },
      cancel: () => stop(),
    },
    new ByteLengthQueuingStrategy({ highWaterMark: MOST_WAITING_BYTES }),
  );
}

/** A reader that was away is told of so many jobs; one that missed more asks for all. */
const MOST_CAUGHT_UP = 100;

function missedSince(lastId: string): readonly NumberedNews[] | null {
  const [epoch, number] = lastId.split('-');
  if (epoch !== jobFeed().epoch || !/^\d{1,15}$/.test(number ?? '')) return null;
  const missed = jobFeed().since(Number(number));
  return missed && missed.length <= MOST_CAUGHT_UP ? missed : null;
}
