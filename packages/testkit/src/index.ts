export { docxFile, emlFile, type MailFields, type Rows, xlsxFile } from './documents.js';
export { cardNumber, grouped, ibanNumber, luhnDigit, passportLines } from './numbers.js';
export { chance, type Chance } from './random.js';
export { zipBomb, zipFile } from './zip.js';
export { oneDigitOff, transposed, valueOf } from './values.js';
export { corpusMails, type CorpusMail } from './mails.js';
export { sentencesFor } from './sentences.js';
