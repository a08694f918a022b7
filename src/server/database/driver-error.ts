/** What the driver says of a failed statement; Sequelize wraps it once or twice. */
export interface DriverError {
  readonly code?: string;
  readonly errno?: number;
  readonly sqlMessage?: string;
}

/** The driver's own error inside of what was thrown; null for an error of another kind. */
export function driverErrorOf(error: unknown): DriverError | null {
  for (let at: unknown = error, depth = 0; at && typeof at === 'object' && depth < 4; depth++) {
    const { errno, code, original, parent } = at as DriverError & { original?: unknown; parent?: unknown };
    if (typeof errno === 'number' || typeof code === 'string') return at as DriverError;
    at = original ?? parent;
  }
  return null;
}
