/** Hangs a bone on another one, unless that one hangs on it already: trees that were changed before may cross. */
export function hang(parents: Int32Array, bone: number, parent: number): void {
  for (let above = parent; above >= 0; above = parents[above]) if (above === bone) return;
  parents[bone] = parent;
}
