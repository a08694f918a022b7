import { SIDES } from '../definition/definition';
import { gaitStance } from './gait-body';
import { gaitPlan } from './gait-plan';
import type { GaitSettings } from './gait-settings';
import type { HouseMotion } from './house-motion';

/**
 * A walk or a run of so many strides, which goes over into itself. Feet are planted: they roll over the heel, stand flat
 * and roll over the joint of the toes; the hips are as high as both legs reach at every moment.
 */
export function gaitMotion(name: string, settings: GaitSettings): HouseMotion {
  const plan = gaitPlan(settings);
  const { cycle, strides } = plan;
  const seconds = cycle * strides;
  const isBack = settings.direction === 'back';
  // To walk backwards is to walk ahead with time turned round, from how the feet roll to which arm goes with which leg.
  const time = (t: number): number => (isBack ? -t : t);
  const contacts = SIDES.flatMap((side) =>
    Array.from({ length: strides + 2 }, (_, k) => {
      const { strike, duty } = plan.steps[side];
      const from = (k - 1 + strike) * cycle;
      const to = from + duty * cycle;
      return { part: `${side}Foot` as const, from: isBack ? seconds - to : from, to: isBack ? seconds - from : to };
    }),
  ).filter(({ from, to }) => to > 0 && from < seconds);
  return {
    name,
    seconds,
    at: (t) => gaitStance(plan, time(t)),
    contacts,
    loops: true,
    travel: settings.rise === 0 ? ['horizontal'] : ['horizontal', 'vertical'],
    remarks: plan.remarks,
  };
}
