import { MotionChangeBody, MotionParams } from '@/contract/motions';
import { authorOf, errorResponse, jsonRoute, notFound } from '@/server/http/http';
import { changeMotion } from '@/server/motions/change-motion';

/** Changes what was chosen about a motion: 200 `{ motion }`; 409 where somebody else was first. */
export const POST = (request: Request, context: { params: Promise<{ motionId: string }> }): Promise<Response> =>
  jsonRoute(request, 'motion', MotionChangeBody, async ({ baseRevision, change }) => {
    const params = MotionParams.safeParse(await context.params);
    if (!params.success) return notFound('There is no such motion.');
    const outcome = await changeMotion(params.data.motionId, baseRevision, change, authorOf(request));
    if (outcome.ok) return Response.json({ motion: outcome.motion });
    if (outcome.code === 'not-found') return notFound(outcome.message);
    return errorResponse(409, {
      code: outcome.code,
      message: outcome.message,
      place: 'motion',
      remedy: 'Look at what changed and repeat your change if it is still wanted.',
    });
  });
