import type { LoggerService } from '@nestjs/common';
import { type Logger, pino } from 'pino';

export function rootLogger(): Logger {
  return pino({ level: process.env['LANTERN_LOG_LEVEL'] ?? 'info' });
}

/** Nest's log lines through pino. */
export class NestLogger implements LoggerService {
  constructor(private readonly pino: Logger) {}

  log(message: unknown, context?: string): void {
    this.pino.debug({ context }, String(message));
  }

  warn(message: unknown, context?: string): void {
    this.pino.warn({ context }, String(message));
  }

  error(message: unknown, _stack?: string, context?: string): void {
    this.pino.error({ context }, String(message));
  }
}
