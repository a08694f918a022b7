/** Points by the cells of a grid, so that the nearest one is found without looking at all. */
export class PointGrid {
  private readonly low: [number, number, number] = [Infinity, Infinity, Infinity];
  private readonly cell: number;
  private readonly counts: [number, number, number];
  /** Points of a cell stand from `starts[cell]` to `starts[cell + 1]`, rising. */
  private readonly starts: Uint32Array;
  private readonly sorted: Uint32Array;

  /**
   * @param places [pointCount x 3], any unit.
   * @param points indices of those that count, rising; those without a finite place are left out.
   */
  constructor(
    private readonly places: ArrayLike<number>,
    points: readonly number[],
  ) {
    const finite = points.filter((point) => [0, 1, 2].every((axis) => Number.isFinite(places[point * 3 + axis])));
    const high: [number, number, number] = [-Infinity, -Infinity, -Infinity];
    for (const point of finite)
      for (let axis = 0; axis < 3; axis++) {
        this.low[axis] = Math.min(this.low[axis], places[point * 3 + axis]);
        high[axis] = Math.max(high[axis], places[point * 3 + axis]);
      }
    const widest = Math.max(...high.map((value, axis) => value - this.low[axis]));
    const across = Math.max(1, Math.ceil(Math.cbrt(finite.length)));
    this.cell = widest > 0 && Number.isFinite(widest) ? widest / across : 1;
    this.counts = [0, 1, 2].map((axis) =>
      finite.length === 0 ? 1 : Math.min(across, Math.floor((high[axis] - this.low[axis]) / this.cell)) + 1,
    ) as [number, number, number];
    const cells = finite.map((point) => this.cellOf(this.stepsOf(point)));
    this.starts = new Uint32Array(this.counts[0] * this.counts[1] * this.counts[2] + 1);
    for (const cell of cells) this.starts[cell + 1]++;
    for (let cell = 1; cell < this.starts.length; cell++) this.starts[cell] += this.starts[cell - 1];
    this.sorted = new Uint32Array(finite.length);
    const filled = this.starts.slice();
    finite.forEach((point, at) => (this.sorted[filled[cells[at]]++] = point));
  }

  /** The point nearest to another of the same places, the lowest index of equally near ones; -1 where none can be told. */
  nearestTo(point: number): number {
    const { places, cell, counts } = this;
    const [x, y, z] = [places[point * 3], places[point * 3 + 1], places[point * 3 + 2]];
    if (this.sorted.length === 0 || !Number.isFinite(x + y + z)) return -1;
    const middle = this.stepsOf(point);
    let [nearest, least] = [-1, Infinity];
    const look = (at: number): void => {
      for (let place = this.starts[at]; place < this.starts[at + 1]; place++) {
        const other = this.sorted[place];
        const away = (places[other * 3] - x) ** 2 + (places[other * 3 + 1] - y) ** 2 + (places[other * 3 + 2] - z) ** 2;
        if (away < least || (away === least && other < nearest)) [least, nearest] = [away, other];
      }
    };
    // Ring by ring. All points lie in the grid's box, so what lies beyond a ring is at least so many cells away, also
    // from a place outside of the box, whose steps are those of the box's nearest cell.
    for (let ring = 0; ring <= Math.max(...counts); ring++) {
      for (let i = middle[0] - ring; i <= middle[0] + ring; i++)
        for (let j = middle[1] - ring; j <= middle[1] + ring; j++) {
          const isEdge = Math.abs(i - middle[0]) === ring || Math.abs(j - middle[1]) === ring;
          const step = isEdge || ring === 0 ? 1 : 2 * ring;
          for (let k = middle[2] - ring; k <= middle[2] + ring; k += step)
            if (i >= 0 && j >= 0 && k >= 0 && i < counts[0] && j < counts[1] && k < counts[2])
              look(this.cellOf([i, j, k]));
        }
      if (least < (ring * cell) ** 2) break;
    }
    return nearest;
  }

  private stepsOf(point: number): [number, number, number] {
    return [0, 1, 2].map((axis) => {
      const steps = Math.floor((this.places[point * 3 + axis] - this.low[axis]) / this.cell);
      return Math.max(0, Math.min(this.counts[axis] - 1, steps));
    }) as [number, number, number];
  }

  private cellOf([i, j, k]: readonly [number, number, number]): number {
    return (i * this.counts[1] + j) * this.counts[2] + k;
  }
}
