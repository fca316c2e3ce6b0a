import {
  type FileLabels,
  type LabelNote,
  type LabelToWrite,
  type LabelWriter,
  MARKS_FIELD,
  NO_FILE_LABELS,
  refused,
} from './file-label.js';
import { addDocxMarks, removeDocxMarks } from './docx-marks.js';
import { addOdfMarks, odfHindrance, readOdfLabel, removeOdfMarks, writeOdfLabel } from './odf-label.js';
import { readOoxmlLabel, readProperties, writeOoxmlLabel } from './ooxml-properties.js';
import { PackageFile } from './package-file.js';
import { addSlideMarks, removeSlideMarks } from './pptx-marks.js';
import { addSheetMarks, removeSheetMarks, sheetMarks, type SheetMarks } from './xlsx-marks.js';
import { UnsoundXml } from './xml.js';

type Family = 'docx' | 'xlsx' | 'pptx' | 'odf';

/** Which office format a package is by its parts; undefined for any other zip. */
function familyOf(file: PackageFile): Family | undefined {
  if (file.has('[Content_Types].xml')) {
    if (file.has('word/document.xml')) return 'docx';
    if (file.has('xl/workbook.xml')) return 'xlsx';
    if (file.has('ppt/presentation.xml')) return 'pptx';
  }
  return file.has('content.xml') && file.has('META-INF/manifest.xml') ? 'odf' : undefined;
}

/** Labels of an office document; undefined where a zip is none. */
export async function readOfficeLabel(bytes: Uint8Array): Promise<FileLabels | undefined> {
  const file = await PackageFile.read(bytes);
  if (typeof file === 'string') return NO_FILE_LABELS;
  const family = familyOf(file);
  if (!family) return undefined;
  try {
    return family === 'odf' ? readOdfLabel(file) : readOoxmlLabel(file);
  } catch (error) {
    if (error instanceof UnsoundXml) return NO_FILE_LABELS;
    throw error;
  }
}

/** Writes label and marks into an office document; undefined where a zip is none. */
export async function writeOfficeLabel(
  ...[{ bytes }, change]: Parameters<LabelWriter>
): Promise<Awaited<ReturnType<LabelWriter>> | undefined> {
  const file = await PackageFile.read(bytes);
  if (typeof file === 'string') return refused(file);
  const family = familyOf(file);
  if (!family) return undefined;
  const hindrance =
    family === 'odf'
      ? odfHindrance(file)
      : file.names.some((name) => name.startsWith('_xmlsignatures/'))
        ? 'signed'
        : null;
  if (hindrance) return refused(hindrance);
  try {
    const notes = WRITERS[family](file, change);
    return { status: 'written', bytes: file.write(), notes };
  } catch (error) {
    if (error instanceof UnsoundXml) return refused('corrupt');
    throw error;
  }
}

/** Each takes the old marks off before it prints new ones, so that doing it again replaces. */
const WRITERS: Readonly<Record<Family, (file: PackageFile, change: LabelToWrite | null) => LabelNote[]>> = {
  docx(file, change) {
    removeDocxMarks(file);
    writeOoxmlLabel(file, change?.label ?? null, null);
    if (change) addDocxMarks(file, change.marks);
    return [];
  },
  xlsx(file, change) {
    const old = storedMarks(file);
    if (old) removeSheetMarks(file, old);
    const fresh = change && change.marks.length > 0 ? sheetMarks(change.marks) : null;
    const notes = fresh ? addSheetMarks(file, fresh) : [];
    writeOoxmlLabel(file, change?.label ?? null, fresh ? JSON.stringify(fresh) : null);
    return change?.marks.some(({ place }) => place === 'across') ? [...notes, 'no-place-across'] : notes;
  },
  pptx(file, change) {
    removeSlideMarks(file);
    writeOoxmlLabel(file, change?.label ?? null, null);
    if (change) addSlideMarks(file, change.marks);
    return [];
  },
  odf(file, change) {
    removeOdfMarks(file);
    writeOdfLabel(file, change?.label ?? null);
    return change ? addOdfMarks(file, change.marks) : [];
  },
};

function storedMarks(file: PackageFile): SheetMarks | null {
  const text = readProperties(file).get(MARKS_FIELD);
  if (text === undefined) return null;
  try {
    const value = JSON.parse(text) as Partial<SheetMarks>;
    return { header: String(value.header ?? ''), footer: String(value.footer ?? '') };
  } catch {
    return null;
  }
}
