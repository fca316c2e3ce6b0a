import 'reflect-metadata';
import { type ClassConstructor, plainToInstance } from 'class-transformer';
import { validateSync } from 'class-validator';
import { ActRequest, NoteRequest, UnmaskRequest } from './incidents.js';
import { MAX_PASTE_LENGTH, MAX_TEXT_LENGTH } from './limits.js';
import { SendMailRequest } from './mail.js';
import { WordListRequest } from './patterns.js';
import { GroupsQuery, ListQuery, ValuesQuery } from './queue.js';
import { SignInRequest } from './session.js';

/** Fields at fault in what a stranger sends, as the server checks it. */
function faults<Contract extends object>(contract: ClassConstructor<Contract>, value: object): string[] {
  return validateSync(plainToInstance(contract, value), { whitelist: true, forbidNonWhitelisted: true }).map(
    (fault) => fault.property,
  );
}

const PERSON = '3f0c1c9e-6f0c-4c39-9a0e-0d4d4d1c7b11';
const mail = { person: PERSON, to: '["a@b.example"]', subject: 's', body: 'b' };

describe('what a request must be', () => {
  it.each<[string, ClassConstructor<object>, object, string[]]>([
    ['a sign-in', SignInRequest, { email: 'a@localhost', password: 'x' }, []],
    ['a sign-in without an address', SignInRequest, { email: 'a', password: 'x' }, ['email']],
    [
      'a password without end',
      SignInRequest,
      { email: 'a@b.example', password: 'x'.repeat(10_000) },
      ['password'],
    ],
    ['no filter at all', ListQuery, {}, []],
    ['an order and a page', ListQuery, { filter: 'person pr', order: '-urgency', limit: '50' }, []],
    ['an order nobody knows', ListQuery, { order: 'colour' }, ['order']],
    ['a page of everything', ListQuery, { limit: '100000' }, ['limit']],
    ['a filter of nobody', ListQuery, { colour: 'red' }, ['colour']],
    ['values of no field', ValuesQuery, { field: 'colour' }, ['field']],
    ['groups by two fields', GroupsQuery, { by: 'policy,person' }, []],
    ['groups by one field twice', GroupsQuery, { by: 'policy,policy' }, ['by']],
    ['groups by three', GroupsQuery, { by: 'policy,person,channel' }, ['by']],
    ['handing on', ActRequest, { act: 'assign', to: 'a@b.example', version: 1 }, []],
    [
      'a severity nobody knows',
      ActRequest,
      { act: 'set-severity', severity: 'awful', version: 1 },
      ['severity'],
    ],
    ['an answer to a question', ActRequest, { act: 'answer-looked-for', yes: true, version: 1 }, []],
    ['an answer without yes or no', ActRequest, { act: 'answer-looked-for', version: 1 }, ['yes']],
    ['a cause nobody knows', ActRequest, { act: 'name-cause', cause: 'weather', version: 1 }, ['cause']],
    ['an act without the version that was seen', ActRequest, { act: 'take' }, ['version']],
    ['a note', NoteRequest, { text: 'x' }, []],
    ['an empty note', NoteRequest, { text: '' }, ['text']],
    ['a note too long to be one', NoteRequest, { text: 'x'.repeat(MAX_TEXT_LENGTH + 1) }, ['text']],
    ['an unmasking without a reason', UnmaskRequest, { reason: '' }, ['reason']],
    ['a word list', WordListRequest, { name: 'x', about: '', words: 'a\nb' }, []],
    [
      'a paste without end',
      WordListRequest,
      { name: 'x', about: '', words: 'x'.repeat(MAX_PASTE_LENGTH + 1) },
      ['words'],
    ],
    ['a mail as the form sends it', SendMailRequest, { ...mail, keep: `["${PERSON}"]` }, []],
    ['a mail whose sender is no id', SendMailRequest, { ...mail, person: 'orla' }, ['person']],
    ['recipients that are no list', SendMailRequest, { ...mail, to: '{"a":1}' }, ['to']],
    ['recipients that are no texts', SendMailRequest, { ...mail, to: '[1,2]' }, ['to']],
    ['recipients in broken JSON', SendMailRequest, { ...mail, to: '["a' }, ['to']],
    ['attachments to keep that are no ids', SendMailRequest, { ...mail, keep: '["../x"]' }, ['keep']],
  ])('%s', (_name, contract, value, expected) => expect(faults(contract, value)).toEqual(expected));
});
