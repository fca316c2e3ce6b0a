import type { AddressInfo } from 'node:net';
import type { Logger } from '@nestjs/common';
import { ownCertificate } from './encrypted-mail.js';
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
export function listening(server: SMTPServer, port: number, log: Logger): Promise<boolean> {
  return new Promise((resolve) => {
    const refused = (error: Error): void => {
      log.error(`Port ${port} could not be opened: ${error.message}`);
      resolve(false);
    };
    server.once('error', refused);
    server.listen(port, '127.0.0.1', () => {
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

/** All of a mail as it comes; null where it is larger than `most`. What comes after that is read and let go. */
export async function readAll(stream: SMTPServerDataStream, most: number): Promise<Buffer | null> {
  const chunks: Buffer[] = [];
  let bytes = 0;
  for await (const chunk of stream as AsyncIterable<Buffer>) {
    bytes += chunk.length;
    if (bytes <= most) chunks.push(chunk);
    else chunks.length = 0;
  }
  return bytes > most || stream.sizeExceeded ? null : Buffer.concat(chunks);
}
