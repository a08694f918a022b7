import { expect, it } from 'vitest';
import { statedUnit } from './stated-unit';

it('a unit that a file states counts where somebody may have meant it; any other is said', () => {
  for (const metres of [1e-6, 0.0254, 0.01, 1, 1000])
    expect(statedUnit(metres)).toEqual({ unitMetres: metres, remarks: [] });
  expect(statedUnit(NaN)).toEqual({ unitMetres: null, remarks: [] });
  for (const metres of [1e308, Infinity, 0, -1, 1e-300]) {
    const { unitMetres, remarks } = statedUnit(metres);
    expect(unitMetres).toBeNull();
    expect(remarks.join()).toContain(`a unit of ${metres} m, which cannot be`);
  }
});
