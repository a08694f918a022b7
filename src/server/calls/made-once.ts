import { Op, QueryTypes, type Transaction } from 'sequelize';
import { database } from '../database/connection';
import { models } from '../database/models';
import { inTransaction } from '../database/transaction';

/** What a call made is told again for this long. */
const KEPT_MS = 7 * 24 * 60 * 60_000;

/**
 * Makes something once under the id that a call names itself by: what it made is kept with it, and the same call sent
 * again, also at the same moment, is answered with that.
 *
 * @param callId null for a call without a name, which makes something each time.
 * @param work what is made, within the transaction; its answer is plain data.
 */
export function madeOnce<Answer>(
  callId: string | null,
  work: (transaction: Transaction) => Promise<Answer>,
): Promise<Answer> {
  return inTransaction(async (transaction) => {
    if (callId === null) return work(transaction);
    // A second sender waits here until the first one's transaction ends.
    const [, insertedCount] = await database().query(
      "INSERT IGNORE INTO made_calls (id, answer, created_at) VALUES (:callId, '', :now)",
      { replacements: { callId, now: new Date() }, type: QueryTypes.INSERT, transaction },
    );
    if (insertedCount === 0) {
      const there = await models().MadeCall.findByPk(callId, { transaction, lock: true });
      if (!there) throw new Error(`call ${callId} was made and is not there`);
      return JSON.parse(there.answer) as Answer;
    }
    const answer = await work(transaction);
    await models().MadeCall.update({ answer: JSON.stringify(answer) }, { where: { id: callId }, transaction });
    return answer;
  });
}

/** Forgets calls that nobody sends again. @returns how many. */
export const forgetCalls = (now: Date): Promise<number> =>
  models().MadeCall.destroy({ where: { createdAt: { [Op.lt]: new Date(now.getTime() - KEPT_MS) } } });
