import mysql2 from 'mysql2';

/** Code of a statement that the database did not answer in time. */
export const STATEMENT_TIMED_OUT = 'YARVO_STATEMENT_TIMED_OUT';

type Callback = (error: unknown, ...rest: unknown[]) => void;
type Statement = (...args: unknown[]) => unknown;

/**
 * The driver, whose statements are given up after a time: a database that is stopped, or on a disk that hangs, takes
 * connections and never answers. The connection of such a statement is of no use any more and is closed.
 */
export function patientDriver(statementMs: number): typeof mysql2 {
  const createConnection = (options: Parameters<typeof mysql2.createConnection>[0]) => {
    const connection = mysql2.createConnection(options);
    for (const name of ['query', 'execute'] as const) {
      const statement = (connection[name] as Statement).bind(connection);
      Object.assign(connection, { [name]: givenUp(statement, statementMs, () => connection.destroy()) });
    }
    return connection;
  };
  return Object.assign(Object.create(mysql2) as typeof mysql2, { createConnection });
}

/** A statement with a callback, answered once: by the database or by the clock. */
function givenUp(statement: Statement, statementMs: number, giveUp: () => void): Statement {
  return (...args) => {
    const callback = args.at(-1);
    if (typeof callback !== 'function') return statement(...args);
    let isOver = false;
    const answer: Callback = (error, ...rest) => {
      if (isOver) return;
      isOver = true;
      clearTimeout(timer);
      (callback as Callback)(error, ...rest);
    };
    const timer = setTimeout(() => {
      giveUp();
      answer(Object.assign(new Error(`no answer after ${statementMs} ms`), { code: STATEMENT_TIMED_OUT, errno: 0 }));
    }, statementMs);
    return statement(...args.slice(0, -1), answer);
  };
}
