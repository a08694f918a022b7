/**
 * A mutant can send a loop round for ever, and one that fills a list kills the whole process before any time limit ends
 * it. No list of the matcher comes near this length.
 */
const LONGEST = 1_000_000;
const push = Array.prototype.push;

Array.prototype.push = function guardedPush(...items: unknown[]): number {
  if (this.length > LONGEST) throw new RangeError('runaway list');
  return push.apply(this, items);
};
