/** What the drill found when a motion was carried to the character as it stands. */
export interface DrillResult {
  /** Id of a motion of the shelf, or "house-walk". */
  readonly motionKey: string;
  readonly motion: string;
  /** How many flags. */
  readonly count: number;
  /** The most harmful one, as a person reads it. */
  readonly worst: { readonly frame: number; readonly sentence: string };
}
