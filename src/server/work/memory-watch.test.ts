import { expect, it } from 'vitest';
import { watchMemory } from './memory-watch';

const GIGABYTE = 1024 ** 3;

it('gives the work up when the process holds more than its workers may, and not before', async () => {
  let resident = 2.5 * GIGABYTE;
  const watch = watchMemory(2 * 1024, () => resident);
  await new Promise((resolve) => setTimeout(resolve, 200));
  expect(watch.signal.aborted).toBe(false);
  resident = 3.5 * GIGABYTE;
  await new Promise((resolve) => watch.signal.addEventListener('abort', resolve));
  watch.stop();
});

it('looks no more once it was stopped', async () => {
  let looks = 0;
  const watch = watchMemory(1024, () => (looks++, 0));
  watch.stop();
  await new Promise((resolve) => setTimeout(resolve, 150));
  expect(looks).toBe(0);
});
