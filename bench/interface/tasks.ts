/** One complete event of the browser's trace; microseconds that its thread ran, which other programs on the machine do not stretch. */
export interface TraceEvent {
  readonly name: string;
  readonly ph: string;
  readonly tdur?: number;
  readonly tid: number;
  readonly pid: number;
  readonly tts?: number;
  readonly args?: { readonly name?: string };
}

/** A task of the page's main thread, milliseconds that it ran; `own` is the script in it, without style, layout and collection of garbage. */
export interface Task {
  readonly whole: number;
  readonly own: number;
}

const SCRIPT = new Set([
  'FunctionCall',
  'RunMicrotasks',
  'EvaluateScript',
  'TimerFire',
  'FireAnimationFrame',
  'EventDispatch',
]);
const ENGINE = new Set(['MinorGC', 'MajorGC', 'V8.GC_SCAVENGER', 'UpdateLayoutTree', 'Layout', 'ParseHTML']);

type Span = readonly [from: number, to: number];

/** Tasks of the main thread in a trace, each with the part that is the page's own script. */
export function mainThreadTasks(events: readonly TraceEvent[]): Task[] {
  const main = events.find((event) => event.name === 'thread_name' && event.args?.name === 'CrRendererMain');
  const own = events.filter((event) => event.ph === 'X' && event.tid === main?.tid && event.pid === main.pid);
  const spans = (names: ReadonlySet<string>) =>
    union(own.filter(({ name }) => names.has(name)).map(({ tts = 0, tdur = 0 }): Span => [tts, tts + tdur]));
  const [script, engine] = [spans(SCRIPT), spans(ENGINE)];
  return own
    .filter(({ name }) => name === 'RunTask')
    .map(({ tts = 0, tdur = 0 }) => {
      const inTask = within(script, [tts, tts + tdur]);
      const lost = inTask.reduce((total, span) => total + length(within(engine, span)), 0);
      return { whole: tdur / 1000, own: (length(inTask) - lost) / 1000 };
    });
}

/** Spans in order, those that touch joined. */
function union(spans: readonly Span[]): Span[] {
  const joined: [number, number][] = [];
  for (const [from, to] of [...spans].sort((a, b) => a[0] - b[0])) {
    const last = joined[joined.length - 1];
    if (last && from <= last[1]) last[1] = Math.max(last[1], to);
    else joined.push([from, to]);
  }
  return joined;
}

const within = (spans: readonly Span[], [from, to]: Span): Span[] =>
  spans.flatMap(([a, b]): Span[] => (b > from && a < to ? [[Math.max(a, from), Math.min(b, to)]] : []));
const length = (spans: readonly Span[]): number => spans.reduce((total, [from, to]) => total + to - from, 0);
