import { expect, it } from 'vitest';
import { joinHistory } from './history-pages';

const steps = (from: number, to: number) =>
  Array.from({ length: from - to + 1 }, (_, index) => ({
    revision: from - index,
    kind: 'act',
    description: `step ${from - index}`,
    author: 'Odo',
    at: '2026-11-23T12:00:00Z',
  }));
const revisions = (from: number, to: number) => steps(from, to).map(({ revision }) => revision);

it('shows every step once, also when new ones push others off the newest page after older ones were fetched', () => {
  // The panel holds all that it showed when it fetched the older page.
  const held = joinHistory(steps(210, 11), steps(10, 0));
  expect(held.map(({ revision }) => revision)).toEqual(revisions(210, 0));
  expect(joinHistory(steps(213, 14), held).map(({ revision }) => revision)).toEqual(revisions(213, 0));
});

it('shows the newest steps alone while no older ones were asked for', () => {
  expect(joinHistory(steps(3, 0), [])).toEqual(steps(3, 0));
});
