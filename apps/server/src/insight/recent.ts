import { AppError } from '../platform/errors/app-error.js';

/** Computations that are kept at once; older ones are forgotten. */
const MOST_KEPT = 50;

/** What was computed for somebody a while ago, so that they can take it from there: named by an id, shown to nobody else. */
export class Recent<Value> {
  private readonly kept = new Map<string, { readonly account: string; readonly value: Value }>();

  keep(id: string, account: string, value: Value): void {
    this.kept.set(id, { account, value });
    const [oldest] = this.kept.keys();
    if (oldest !== undefined && this.kept.size > MOST_KEPT) this.kept.delete(oldest);
  }

  /** Throws `not-found` for another's, and for what was computed too long ago. */
  find(id: string, account: string): Value {
    const found = this.kept.get(id);
    if (found?.account !== account)
      throw new AppError('not-found', 'This was computed too long ago. Compute it again.');
    return found.value;
  }
}
