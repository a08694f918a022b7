import { models } from '../database/models';
import { canCarry, carryStampOf } from '../fits/carry-stamp';
import { readFitState } from '../fits/fit-repository';

/** Stamps the fits that were kept before there were stamps. One statement where there are none. */
export async function stampOldFits(): Promise<void> {
  const { Fit } = models();
  const rows = await Fit.findAll({ where: { carryStamp: null }, attributes: ['id', 'revision'] });
  for (const { id, revision } of rows) {
    const state = await readFitState(id, revision);
    // One that changes meanwhile is stamped with its change.
    await Fit.update({ carryStamp: carryStampOf(state), canCarry: canCarry(state) }, { where: { id, revision } });
  }
}
