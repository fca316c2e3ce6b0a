import { mkdtempSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { jest } from '@jest/globals';
import express, { type Express } from 'express';
import multer from 'multer';
import request from 'supertest';

const SECRET = 'card 4539 1488 0343 6467';

describe('uploads that wait on disk', () => {
  let folder: string;
  let application: Express;
  let seen: { readonly onDisk: Buffer; readonly mode: number; readonly opened: Buffer };

  beforeAll(async () => {
    folder = mkdtempSync(join(tmpdir(), 'lantern-test-'));
    writeFileSync(join(folder, 'left-by-an-earlier-run'), SECRET);
    process.env['LANTERN_UPLOADS'] = folder;
    jest.resetModules();
    const { sealedStorage, sealedUpload } = await import('./sealed-uploads.js');
    const { headOfUpload } = await import('./read-upload.js');
    application = express();
    application.post('/', multer({ storage: sealedStorage }).single('file'), (given, answer) => {
      const { path = '' } = given.file ?? {};
      headOfUpload(sealedUpload(path), SECRET.length)
        .then((opened) => {
          seen = { onDisk: readFileSync(path), mode: statSync(path).mode & 0o777, opened };
          rmSync(path);
          answer.end();
        })
        .catch(() => answer.status(500).end());
    });
  });
  afterAll(() => {
    delete process.env['LANTERN_UPLOADS'];
    rmSync(folder, { recursive: true, force: true });
  });

  it('are swept from an earlier run at the start', () => expect(readdirSync(folder)).toEqual([]));

  it('are readable by the service alone, and by nobody without its key', async () => {
    const answer = await request(application).post('/').attach('file', Buffer.from(SECRET), 'cards.txt');
    expect(answer.status).toBe(200);
    expect(seen.mode).toBe(0o600);
    expect(seen.onDisk.includes('4539')).toBe(false);
    expect(seen.opened.toString()).toBe(SECRET);
  });
});
