/** What a pool says to a child process. */
export type ToChild =
  | { readonly kind: 'load'; readonly module: string; readonly data: unknown }
  | { readonly kind: 'run'; readonly id: number; readonly task: string; readonly input: unknown };

/** What a child process says to its pool. An error is told by its name: its message may quote content. */
export type FromChild =
  | { readonly kind: 'ready' }
  | { readonly kind: 'unfit'; readonly name: string }
  | { readonly kind: 'progress'; readonly id: number; readonly value: unknown }
  | { readonly kind: 'done'; readonly id: number; readonly value: unknown }
  | { readonly kind: 'threw'; readonly id: number; readonly name: string };

/** What a task is given beside its input. */
export interface TaskContext {
  /** Tells whoever waits for the task how far it is. */
  progress(value: unknown): void;
}

/** A module whose tasks run in child processes: functions by name, and what is done once as a process starts. */
export interface TaskModule {
  readonly prepare?: (data: unknown) => unknown;
  readonly tasks: Readonly<Record<string, (input: never, context: TaskContext) => unknown>>;
}
