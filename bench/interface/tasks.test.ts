import { describe, expect, it } from 'vitest';
import { mainThreadTasks, type TraceEvent } from './tasks';

const event = (name: string, tts: number, tdur: number, tid = 7): TraceEvent => ({
  name,
  ph: 'X',
  tts,
  tdur,
  tid,
  pid: 1,
});
const MAIN: TraceEvent = { name: 'thread_name', ph: 'M', tid: 7, pid: 1, args: { name: 'CrRendererMain' } };

describe('tasks of a trace', () => {
  it('hold their script, counted once however deep it nests, and not what the engine does within it', () => {
    const trace = [
      MAIN,
      event('RunTask', 1000, 10_000),
      event('FunctionCall', 2000, 5000),
      event('FunctionCall', 3000, 1000),
      event('RunMicrotasks', 6500, 1500),
      event('MinorGC', 4000, 1000),
      event('UpdateLayoutTree', 9000, 1500),
    ];
    expect(mainThreadTasks(trace)).toEqual([{ whole: 10, own: 5 }]);
  });

  it('are told apart, and those of other threads are none', () => {
    const trace = [
      MAIN,
      event('RunTask', 0, 2000),
      event('RunTask', 3000, 4000),
      event('FunctionCall', 3500, 1000),
      event('RunTask', 0, 9000, 8),
      event('FunctionCall', 100, 8000, 8),
      event('Layout', 100, 500),
    ];
    expect(mainThreadTasks(trace)).toEqual([
      { whole: 2, own: 0 },
      { whole: 4, own: 1 },
    ]);
    expect(mainThreadTasks([])).toEqual([]);
  });
});
