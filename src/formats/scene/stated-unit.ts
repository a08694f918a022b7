/** Units that somebody may have meant, metres: a micrometre to a thousand kilometres. */
const POSSIBLE = { least: 1e-6, most: 1e6 } as const;

/** A unit that a file states. One that cannot be is said, and the unit comes from the figure's size. */
export function statedUnit(metres: number): {
  readonly unitMetres: number | null;
  readonly remarks: readonly string[];
} {
  if (Number.isNaN(metres)) return { unitMetres: null, remarks: [] };
  if (metres >= POSSIBLE.least && metres <= POSSIBLE.most) return { unitMetres: metres, remarks: [] };
  return {
    unitMetres: null,
    remarks: [`The file states a unit of ${metres} m, which cannot be; the unit is taken from the figure's size.`],
  };
}
