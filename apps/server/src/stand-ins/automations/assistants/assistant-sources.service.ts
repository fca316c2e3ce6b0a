import type { AssistantSource } from '@lantern/core/automations';
import { Injectable } from '@nestjs/common';
import MiniSearch from 'minisearch';
import type { Player } from '../../../directory/people.service.js';
import { FileWork } from '../../../inspection/file-work.service.js';
import { AppError } from '../../../platform/errors/app-error.js';
import { DriveFileEntity } from '../../drive/drive.entity.js';
import { DrivePlaces } from '../../drive/places/drive-places.service.js';
import { onDrive, PlaceFiles } from '../../drive/places/place-files.service.js';

/** Files of one place that an assistant reads; who asks waits while they are read first. */
const MOST_FILES = 400;
const MOST_FOLDERS = 200;
/** Larger ones are left out: one answer must not read for minutes. */
const MOST_BYTES = 2 * 1024 * 1024;
/** Characters of one passage: what fits on a screen. */
const PASSAGE = 500;
const MOST_PASSAGES_OF_FILE = 100;
/** Passages that one question is held to: some seconds of work, and 10 MB. */
const MOST_PASSAGES = 20_000;
/** Passages that are indexed before others get their turn. */
const INDEXED_AT_ONCE = 200;
/** Places that are kept read: at most 20 MB each. */
const MOST_KEPT = 5;
/** Passages in one answer. */
const QUOTED = 3;

export interface Quoted {
  readonly file: DriveFileEntity;
  readonly text: string;
}

export interface SourcesRead {
  readonly quoted: readonly Quoted[];
  /** Sources that were not read, with the reason. */
  readonly unread: readonly string[];
}

interface Place {
  readonly id: string;
  readonly name: string;
}

interface ReadFile {
  readonly marker: string;
  readonly passages: readonly string[];
}

/** What assistants read, searched by the words of a question (BM25, by a search package). */
@Injectable()
export class AssistantSources {
  /** By place: what was read of its files, kept as long as they stay as they are. */
  private readonly kept = new Map<string, Map<string, ReadFile>>();

  constructor(
    private readonly places: DrivePlaces,
    private readonly placeFiles: PlaceFiles,
    private readonly work: FileWork,
  ) {}

  /** The passages that fit a question best, out of what the assistant reads with the rights of its owner. */
  async search(sources: readonly AssistantSource[], owner: Player, question: string): Promise<SourcesRead> {
    const unread: string[] = [];
    const passages: { id: number; place: string; path: string; text: string }[] = [];
    const known = await this.places.list(owner);
    for (const source of sources) {
      const place = source.kind === 'place' ? known.find(({ name }) => name === source.name) : undefined;
      if (!place) {
        unread.push(whyUnread(source));
        continue;
      }
      for (const [path, { passages: texts }] of await this.read(place, owner))
        for (const text of texts.slice(0, MOST_PASSAGES - passages.length))
          passages.push({ id: passages.length, place: place.id, path, text });
    }
    const index = new MiniSearch({ fields: ['text', 'path'], processTerm: contentWord });
    await index.addAllAsync(passages, { chunkSize: INDEXED_AT_ONCE });
    const best = index.search(question, { prefix: (term) => term.length > 3 }).slice(0, QUOTED);
    const quoted: Quoted[] = [];
    for (const { id } of best) {
      const passage = passages[id as number];
      // Opened like anybody opens it: what changed meanwhile is judged anew, and its label is the one of now.
      if (passage)
        quoted.push({ file: await this.places.file(passage.place, passage.path, owner), text: passage.text });
    }
    return { quoted, unread };
  }

  private async read(place: Place, owner: Player): Promise<Map<string, ReadFile>> {
    const before = this.kept.get(place.id) ?? new Map<string, ReadFile>();
    const now = new Map<string, ReadFile>();
    for (const { path, bytes, changedAt } of await this.entries(place.id, owner)) {
      const marker = `${bytes} ${changedAt}`;
      const known = before.get(path);
      const texts = known?.marker === marker ? known : { marker, passages: await this.passages(place, path) };
      now.set(path, texts);
    }
    this.kept.delete(place.id);
    this.kept.set(place.id, now);
    for (const oldest of this.kept.keys()) {
      if (this.kept.size <= MOST_KEPT) break;
      this.kept.delete(oldest);
    }
    return now;
  }

  private async entries(
    place: string,
    owner: Player,
  ): Promise<{ readonly path: string; readonly bytes: number; readonly changedAt: string }[]> {
    const found: { path: string; bytes: number; changedAt: string }[] = [];
    const folders = [''];
    for (let at = 0; at < Math.min(folders.length, MOST_FOLDERS); at += 1) {
      const folder = folders[at] ?? '';
      for (const entry of (await this.places.folder(place, folder, owner)).entries) {
        const path = folder === '' ? entry.name : `${folder}/${entry.name}`;
        if (entry.kind === 'folder') folders.push(path);
        else if (entry.bytes <= MOST_BYTES && found.length < MOST_FILES)
          found.push({ path, bytes: entry.bytes, changedAt: entry.changedAt });
      }
    }
    return found;
  }

  private async passages({ id, name: place }: Place, path: string): Promise<string[]> {
    const { folder, name } = onDrive({ name: place }, path);
    try {
      const bytes = await this.placeFiles.read({ folder, name, placeId: id, changedAt: new Date(0) });
      const texts = await this.work.texts({ name, bytes });
      return texts.flatMap(parted).slice(0, MOST_PASSAGES_OF_FILE);
    } catch (error) {
      // It is gone since the folder was listed.
      if (error instanceof AppError) return [];
      throw error;
    }
  }
}

/** Short words join others and say nothing; numbers do. */
const contentWord = (term: string): string | null =>
  term.length > 3 || /\d/u.test(term) ? term.toLowerCase() : null;

function whyUnread(source: AssistantSource): string {
  switch (source.kind) {
    case 'site':
      return `${source.address}: nothing outside of this machine can be reached`;
    case 'service':
      return `${source.service}: the demo's assistant searches places only`;
    default:
      return `${source.name}: its owner does not come in there, or it is gone`;
  }
}

/** A text in passages: whole paragraphs or lines, together up to the length of one. */
export function parted(text: string): string[] {
  const passages: string[] = [];
  let open = '';
  for (const line of text.split(/\r?\n/u)) {
    for (let from = 0; from === 0 || from < line.length; from += PASSAGE) {
      const piece = line.slice(from, from + PASSAGE).trim();
      if (open !== '' && (piece === '' || open.length + piece.length > PASSAGE)) {
        passages.push(open);
        open = '';
      }
      open = open === '' ? piece : `${open}\n${piece}`;
    }
  }
  return open === '' ? passages : [...passages, open];
}
