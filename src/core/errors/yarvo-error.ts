import { z } from 'zod';

/**
 * The one shape in which every failure reaches a person: what went wrong (`message`), where (`place`: file, bone,
 * frame, field) and what to do next (`remedy`). `code` is stable and meant for programs.
 */
export const ProblemSchema = z.strictObject({
  code: z.string(),
  message: z.string(),
  place: z.string(),
  remedy: z.string(),
  /** Names the request in the log. */
  requestId: z.string().optional(),
});
export type Problem = z.infer<typeof ProblemSchema>;

/** An expected failure. Thrown where a stage cannot go on; caught once at each edge and shown as its `problem`. */
export class YarvoError extends Error {
  readonly problem: Problem;

  constructor(problem: Problem) {
    super(problem.message);
    this.name = 'YarvoError';
    this.problem = problem;
  }
}

/**
 * The problem of an expected failure, or one with the bare message of anything else: for tools and workers, whose caller
 * decides who gets to see it.
 */
export function problemOf(error: unknown, place: string): Problem {
  if (error instanceof YarvoError) return error.problem;
  const message = error instanceof Error ? error.message : String(error);
  return {
    code: 'unexpected',
    message,
    place,
    remedy: 'Try again; if it returns, the file triggers a fault in Yarvo.',
  };
}
