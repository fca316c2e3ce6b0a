import type { AddressInfo } from 'node:net';
import type { Logger } from '@nestjs/common';
import { ownCertificate } from '@lantern/files';
import type { SMTPServer, SMTPServerDataStream } from 'smtp-server';

let ownKeys: { readonly cert: string; readonly key: string } | undefined;

/** A certificate of this process's own making: it keeps others from reading along, and proves nothing more. */
export function ownTls(): { readonly cert: string; readonly key: string } {
  if (!ownKeys) {
    const { certificate, privateKey } = ownCertificate(
      'lantern.localhost',
      new Date(Date.now() - 86_400_000),
    );
    ownKeys = { cert: certificate, key: privateKey };
  }
  return ownKeys;
}

/** Opens a door on loopback; says so where somebody else has the port, and keeps the rest running. */
export function listening(
  server: SMTPServer,
  port: number,
  { host = '127.0.0.1', log }: { readonly host?: string; readonly log: Logger },
): Promise<boolean> {
  return new Promise((resolve) => {
    const refused = (error: Error): void => {
      log.error(`Port ${port} could not be opened: ${error.message}`);
      resolve(false);
    };
    server.once('error', refused);
    server.listen(port, host, () => {
      server.off('error', refused);
      resolve(true);
    });
  });
}

export function portOf(server: SMTPServer): number {
  const address = server.server.address() as AddressInfo | null;
  return address?.port ?? 0;
}

export function stopped(server: SMTPServer): Promise<void> {
  return new Promise((resolve) => {
    if (!server.server.listening) return resolve();
    server.close(() => resolve());
  });
}

/** A mail as it came. */
export interface ReceivedMail {
  /** Null where it is larger than is taken. */
  readonly raw: Buffer | null;
  /** A lone line feed or return stands in it: how mails are smuggled (RFC 5321, 2.3.8). */
  readonly bareLineEnds: boolean;
}

/** All of a mail as it comes, looked at piece by piece. What comes after `most` bytes is read and let go. */
export async function readAll(stream: SMTPServerDataStream, most: number): Promise<ReceivedMail> {
  const chunks: Buffer[] = [];
  let bytes = 0;
  let last = 0;
  let bareLineEnds = false;
  for await (const chunk of stream as AsyncIterable<Buffer>) {
    bytes += chunk.length;
    bareLineEnds ||= hasBareLineEnds(chunk, last);
    last = chunk[chunk.length - 1] ?? last;
    if (bytes <= most) chunks.push(chunk);
    else chunks.length = 0;
  }
  const raw = bytes > most || stream.sizeExceeded ? null : Buffer.concat(chunks);
  return { raw, bareLineEnds: bareLineEnds || last === RETURN };
}

const FEED = 0x0a;
const RETURN = 0x0d;

/** Whether line ends are other than CR LF in a piece of a mail; `before` is the byte in front of it, 0 for none. */
export function hasBareLineEnds(piece: Uint8Array, before = 0): boolean {
  if (before === RETURN && piece.length > 0 && piece[0] !== FEED) return true;
  for (let at = piece.indexOf(FEED); at !== -1; at = piece.indexOf(FEED, at + 1))
    if ((at === 0 ? before : piece[at - 1]) !== RETURN) return true;
  for (let at = piece.indexOf(RETURN); at !== -1 && at < piece.length - 1; at = piece.indexOf(RETURN, at + 1))
    if (piece[at + 1] !== FEED) return true;
  return false;
}
