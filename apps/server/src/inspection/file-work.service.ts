import {
  type DocxText,
  type FileLabels,
  type LabelToWrite,
  type LabelWriting,
  type MailContent,
  type NamedBytes,
  NO_FILE_LABELS,
} from '@lantern/files';
import { type Outcome, ProcessPool } from '@lantern/processes';
import { Injectable, type OnApplicationShutdown } from '@nestjs/common';
import { demandNoTransaction } from '../platform/database/transaction-context.js';
import { AppError } from '../platform/errors/app-error.js';
import { compiled } from '../platform/processes/compiled.js';
import { type EventsReading, readHandedEvents } from './handed-events.js';
import { type HandedInReading, readHandedIn } from './handed-in.js';
import type { TableToWrite } from './write-table.js';
import { runBounded } from './inspection.service.js';

/** Writing a label into the largest file takes some seconds. */
const TIME_LIMIT_MS = 20_000;
const HEAP_MEGABYTES = 768;
const RESIDENT_MEGABYTES = 1_200;
const MAX_WAITING = 100;
const PROCESSES = 2;
/** A request that is parsed here: it takes a few milliseconds. */
const SMALL_BODY = 256 * 1024;

/**
 * Changes and opens files that strangers made, in processes of their own: labels, texts of documents, mails for their
 * readers. What is inspected goes through {@link InspectionService} and is read there, once.
 */
@Injectable()
export class FileWork implements OnApplicationShutdown {
  private readonly pool = new ProcessPool({
    module: compiled('./reading-tasks.js', import.meta.url),
    processes: PROCESSES,
    maxWaiting: MAX_WAITING,
    heapMegabytes: HEAP_MEGABYTES,
    residentMegabytes: RESIDENT_MEGABYTES,
    timeoutMs: TIME_LIMIT_MS,
  });

  onApplicationShutdown(): void {
    this.pool.destroy();
  }

  /** Writes a label into a file, or takes it off. A file that cannot be finished is refused as corrupt. */
  async writeLabel(file: NamedBytes, change: LabelToWrite | null): Promise<LabelWriting> {
    const outcome = await this.run<LabelWriting>('writeLabel', [file, change]);
    return outcome.status === 'done' ? outcome.value : { status: 'refused', reason: 'corrupt' };
  }

  /** Labels that files carry, in their order; a file that cannot be read to its end carries none. */
  async labels(files: readonly NamedBytes[]): Promise<FileLabels[]> {
    return Promise.all(
      files.map(async (file) => {
        const outcome = await this.run<FileLabels[]>('labels', [file]);
        return outcome.status === 'done' ? (outcome.value[0] ?? NO_FILE_LABELS) : NO_FILE_LABELS;
      }),
    );
  }

  /** A mail for its reader; null where it cannot be opened. */
  async openMail(bytes: Uint8Array): Promise<MailContent | null> {
    const outcome = await this.run<MailContent>('openMail', bytes);
    return outcome.status === 'done' ? outcome.value : null;
  }

  /** The movements in the body of an agent's request; a large one is taken apart elsewhere. */
  async handedIn(body: Uint8Array, most: number): Promise<HandedInReading> {
    if (body.length <= SMALL_BODY) return readHandedIn(body, most);
    const outcome = await this.run<HandedInReading>('handedIn', [body, most]);
    return outcome.status === 'done' ? outcome.value : { status: 'refused', why: 'no-json' };
  }

  /** The events in a request; a large one is taken apart elsewhere. */
  async handedEvents(...given: Parameters<typeof readHandedEvents>): Promise<EventsReading> {
    if (given[0].length <= SMALL_BODY) return readHandedEvents(...given);
    const outcome = await this.run<EventsReading>('handedEvents', given);
    return outcome.status === 'done' ? outcome.value : { status: 'refused', why: 'no-json' };
  }

  /** A mail encrypted for the holder of a certificate (S/MIME); null where that fails. */
  async encryptMail(raw: Uint8Array, certificate: string): Promise<Uint8Array | null> {
    const outcome = await this.run<Uint8Array>('encryptMail', [raw, certificate]);
    return outcome.status === 'done' ? outcome.value : null;
  }

  /** What an encrypted mail holds, for the holder of the key; null for one of another key. */
  async decryptMail(raw: Uint8Array, certificate: string, privateKey: string): Promise<Uint8Array | null> {
    const outcome = await this.run<Uint8Array | null>('decryptMail', [raw, certificate, privateKey]);
    return outcome.status === 'done' ? outcome.value : null;
  }

  /** A table as a file that opens in a spreadsheet. */
  async writeTable(format: 'csv' | 'xlsx', name: string, table: TableToWrite): Promise<Uint8Array> {
    const outcome = await this.run<Uint8Array>('writeTable', [format, name, table]);
    if (outcome.status === 'done') return outcome.value;
    throw new AppError(
      'busy',
      'The file could not be created in time. Nothing was exported. Export fewer records.',
    );
  }

  /** The texts of a file, of what it holds inside as well; none where it cannot be read. */
  async texts(file: NamedBytes): Promise<string[]> {
    const outcome = await this.run<string[]>('texts', file);
    return outcome.status === 'done' ? outcome.value : [];
  }

  async paragraphs(bytes: Uint8Array): Promise<DocxText> {
    const outcome = await this.run<DocxText>('paragraphs', bytes);
    return outcome.status === 'done' ? outcome.value : { status: 'refused', reason: 'corrupt' };
  }

  /** The file with other paragraphs. Throws a refusal that names why it cannot be changed. */
  async writeParagraphs(bytes: Uint8Array, paragraphs: readonly string[]): Promise<Uint8Array> {
    const outcome = await this.run<Uint8Array | string>('writeParagraphs', [bytes, paragraphs]);
    const written = outcome.status === 'done' ? outcome.value : 'corrupt';
    if (typeof written !== 'string') return written;
    throw new AppError(
      'file-refused',
      `The file cannot be changed (${written}). Nothing was saved. The file is unchanged.`,
      { details: { reason: written } },
    );
  }

  private run<Value>(task: string, input: unknown): Promise<Outcome<Value>> {
    demandNoTransaction('Work on a file');
    return runBounded<Value>(() => this.pool.run(task, input));
  }
}
