import type { ErrorBody, ErrorCode } from '@lantern/contracts';

/** A refusal of the server, or of the way to it. */
export class ApiError extends Error {
  constructor(readonly body: ErrorBody) {
    super(body.message);
  }

  get code(): ErrorCode {
    return this.body.code;
  }
}

let csrfToken = '';

/** Remembers the token that changes must carry. */
export function rememberToken(token: string): void {
  csrfToken = token;
}

const unreachable: ErrorBody = {
  code: 'internal',
  message: 'The server cannot be reached. What you typed is still here; try again in a moment.',
};

async function send(path: string, init: RequestInit): Promise<Response> {
  try {
    return await fetch(`/api${path}`, { credentials: 'same-origin', ...init });
  } catch {
    throw new ApiError(unreachable);
  }
}

async function read<Answer>(response: Response): Promise<Answer> {
  if (response.status === 204) return undefined as Answer;
  const body: unknown = await response.json().catch(() => null);
  if (!response.ok)
    throw new ApiError(
      isErrorBody(body) ? body : { ...unreachable, message: `The server answered with ${response.status}.` },
    );
  return body as Answer;
}

function isErrorBody(body: unknown): body is ErrorBody {
  return typeof body === 'object' && body !== null && 'code' in body && 'message' in body;
}

export async function get<Answer>(path: string): Promise<Answer> {
  return read<Answer>(await send(path, {}));
}

/** A file of the server; a refusal comes as for any other answer. */
export async function getFile(path: string): Promise<Blob> {
  const response = await send(path, {});
  return response.ok ? response.blob() : read<Blob>(response);
}

/** A file that is made for a request with a body. */
export async function makeFile(path: string, body: unknown): Promise<Blob> {
  const headers = { 'x-csrf-token': csrfToken, 'content-type': 'application/json' };
  const response = await send(path, { method: 'POST', headers, body: JSON.stringify(body) });
  return response.ok ? response.blob() : read<Blob>(response);
}

/** Says something that needs no answer and is not tried again; it arrives also from a page that is being closed. */
export function tell(path: string, body: unknown): void {
  const headers = { 'x-csrf-token': csrfToken, 'content-type': 'application/json' };
  void send(path, { method: 'POST', headers, body: JSON.stringify(body), keepalive: true }).catch(
    () => undefined,
  );
}

/** Sends a change as JSON, or as a form when `body` is one. */
export async function change<Answer>(
  method: 'POST' | 'PUT' | 'DELETE',
  path: string,
  body?: unknown,
): Promise<Answer> {
  const headers: Record<string, string> = { 'x-csrf-token': csrfToken };
  if (body instanceof FormData) return read<Answer>(await send(path, { method, headers, body }));
  if (body === undefined) return read<Answer>(await send(path, { method, headers }));
  headers['content-type'] = 'application/json';
  return read<Answer>(await send(path, { method, headers, body: JSON.stringify(body) }));
}

/** Sends a request as JSON and gives the file that comes back. */
export async function changeForFile(method: 'POST', path: string, body: unknown): Promise<Blob> {
  const headers = { 'x-csrf-token': csrfToken, 'content-type': 'application/json' };
  const response = await send(path, { method, headers, body: JSON.stringify(body) });
  return response.ok ? response.blob() : read<Blob>(response);
}
