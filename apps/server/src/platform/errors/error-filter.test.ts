import { ERROR_CODES } from '@lantern/contracts';
import {
  type ArgumentsHost,
  BadRequestException,
  HttpException,
  Logger,
  NotFoundException,
  PayloadTooLargeException,
} from '@nestjs/common';
import { AppError } from './app-error.js';
import { ErrorFilter } from './error-filter.js';

interface Sent {
  status: number;
  body: { code: string; message: string };
  headers: Record<string, string>;
}

/** What leaves the server for an error. */
function answerTo(error: unknown): Sent {
  const sent: Sent = { status: 0, body: { code: '', message: '' }, headers: {} };
  const response = {
    headersSent: false,
    setHeader: (name: string, value: string) => (sent.headers[name] = value),
    status: (status: number) => {
      sent.status = status;
      return { json: (body: Sent['body']) => (sent.body = body) };
    },
  };
  const host = { switchToHttp: () => ({ getResponse: () => response }) } as unknown as ArgumentsHost;
  new ErrorFilter().catch(error, host);
  return sent;
}

describe('ErrorFilter', () => {
  const logged: string[] = [];
  beforeAll(() =>
    Logger.overrideLogger({
      log: () => undefined,
      warn: () => undefined,
      error: (message: unknown) => logged.push(String(message)),
    }),
  );

  it.each<[string, unknown, number, string]>([
    ['a refusal of ours', new AppError('changed-meanwhile', 'x'), 409, 'changed-meanwhile'],
    ['an unknown path', new NotFoundException('Cannot GET /x'), 404, 'not-found'],
    ['a file over the limit', new PayloadTooLargeException('File too large'), 413, 'file-too-large'],
    ['too many files', new BadRequestException('Unexpected field - files'), 413, 'too-many-files'],
    ['a wrong number in the path', new BadRequestException('Validation failed'), 400, 'invalid-request'],
    ['JSON that breaks off', { type: 'entity.parse.failed', status: 400 }, 400, 'invalid-request'],
    ['a body without end', { type: 'entity.too.large', status: 413 }, 413, 'file-too-large'],
    ['something of the framework', new HttpException('teapot', 418), 400, 'invalid-request'],
    ['a bug', new TypeError('x is undefined'), 500, 'internal'],
    ['something thrown that is no error', 'text', 500, 'internal'],
  ])('answers %s', (_name, error, status, code) => {
    const sent = answerTo(error);
    expect({ status: sent.status, code: sent.body.code }).toEqual({ status, code });
    expect(ERROR_CODES).toContain(sent.body.code);
  });

  it('says nothing of what was being stored, neither to the caller nor to the log', () => {
    const failure = Object.assign(new Error("Data too long: INSERT … VALUES ('4539148803436467')"), {
      code: 'ER_DATA_TOO_LONG',
    });
    const sent = answerTo(failure);
    expect(JSON.stringify(sent)).not.toContain('4539148803436467');
    expect(logged.join('\n')).toContain('ER_DATA_TOO_LONG');
    expect(logged.join('\n')).not.toContain('4539148803436467');
  });

  it('says when to come back where that helps', () => {
    expect(answerTo(new AppError('busy', 'x')).headers).toHaveProperty('retry-after');
    expect(answerTo(new AppError('not-found', 'x')).headers).not.toHaveProperty('retry-after');
  });
});
