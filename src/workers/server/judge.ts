import { parentPort } from 'node:worker_threads';
import { answerJudge, type JudgeMessage } from './judge-tasks';

/** A thread beside the server's own: it judges fits, which takes tens of milliseconds, on data that workers have read. */
parentPort?.on('message', (message: JudgeMessage) => parentPort?.postMessage(answerJudge(message)));
