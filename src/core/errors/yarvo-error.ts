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

/** The problem of an expected failure, or a plain one for anything else, so that no edge shows a bare stack. */
export function problemOf(error: unknown, place: string): Problem {
  if (error instanceof YarvoError) return error.problem;
  const message = error instanceof Error ? error.message : String(error);
  return { code: 'unexpected', message, place, remedy: 'Try again; if it returns, send the file to whoever looks after Yarvo.' };
}
