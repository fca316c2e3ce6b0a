/** What a whole item holds: its texts and files read and scanned once, with evidence. Runs inside a child process. */
export {
  type InspectedItem,
  type InspectedItemPart,
  inspectItem,
  type ItemToInspect,
  type OpenedMail,
  unreadablePart,
} from './inspect-item.js';
export { asHandled, asMoved, type CarriedByFile, labelsCarried } from '../labels/labels-carried.js';
