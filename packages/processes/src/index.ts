export {
  PoolIsFull,
  type Outcome,
  type FaultReason,
  ProcessPool,
  type PoolOptions,
  type RunOptions,
} from './pool.js';
export { UNFINISHED } from './unfinished.js';
export type { TaskContext, TaskModule } from './messages.js';
