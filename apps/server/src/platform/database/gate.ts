import { AppError } from '../errors/app-error.js';

interface Waiter {
  readonly enter: () => void;
  readonly timer: NodeJS.Timeout;
}

/** Lets some in at a time; the others wait in their order, each for a stated time at most. */
export class Gate {
  private inside = 0;
  private readonly waiting: Waiter[] = [];

  constructor(
    private readonly most: number,
    private readonly waitMs: number,
  ) {}

  /** Resolves when there is room. Throws `busy` where there is none in time. */
  enter(): Promise<void> {
    if (this.inside < this.most) {
      this.inside += 1;
      return Promise.resolve();
    }
    return new Promise((resolve, reject) => {
      const waiter: Waiter = {
        enter: resolve,
        timer: setTimeout(() => {
          this.waiting.splice(this.waiting.indexOf(waiter), 1);
          reject(tooBusy());
        }, this.waitMs).unref(),
      };
      this.waiting.push(waiter);
    });
  }

  leave(): void {
    const next = this.waiting.shift();
    if (!next) {
      this.inside -= 1;
      return;
    }
    clearTimeout(next.timer);
    next.enter();
  }
}

export function tooBusy(): AppError {
  return new AppError(
    'busy',
    'The server is busy and could not finish in time. Nothing was changed. Try again in a few seconds.',
  );
}
