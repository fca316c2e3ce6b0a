export { fieldsAt, tableRows } from './table-rows.js';
export { toSearchText, type SearchText } from './search-text.js';
export { languageOf } from './language.js';
