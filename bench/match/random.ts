/** Small seeded generator (mulberry32): the same seed gives the same rigs on every machine. */
export class Random {
  private state: number;
  constructor(seed: number) {
    this.state = seed >>> 0;
  }
  next(): number {
    this.state = (this.state + 0x6d2b79f5) >>> 0;
    let t = this.state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  }
  range(low: number, high: number): number {
    return low + (high - low) * this.next();
  }
  chance(share: number): boolean {
    return this.next() < share;
  }
  pick<Value>(values: readonly Value[]): Value {
    return values[Math.floor(this.next() * values.length)];
  }
  int(low: number, high: number): number {
    return Math.floor(this.range(low, high + 1 - 1e-9));
  }
}
