import { POLICY_SCHEMA } from '@lantern/contracts';
import { completionsAt } from './yaml-completion';

const NAMES = { text: ['Use the portal', 'A: strange name'], pattern: ['payment-card', 'Ships'] };
/** What is offered where `|` stands. */
const offered = (text: string): string[] => {
  const position = text.indexOf('|');
  const found = completionsAt(text.replace('|', ''), position, POLICY_SCHEMA, NAMES);
  return found?.options.map(({ label }) => label) ?? [];
};

const RULE = `name: Cards
rules:
  - id: r1
    when:
      kind: all
      of:
        - kind: findings
          pattern: payment-card
          AT
    bands:
      - to: 4
        BAND
`;
const inRule = (clause: string, band = ''): string => RULE.replace('AT', clause).replace('BAND', band);

describe('completionsAt', () => {
  it('offers the fields of a policy that are not there yet', () => {
    const fields = offered('name: x\n|');
    expect(fields).toEqual(expect.arrayContaining(['channels', 'rules', 'ceilings']));
    expect(fields).not.toContain('name');
  });

  it('offers the fields of a rule and of its bands', () => {
    expect(offered('rules:\n  - id: r1\n    |')).toEqual(
      expect.arrayContaining(['when', 'bands', 'endsPolicy']),
    );
    expect(offered(inRule('', '|'))).toEqual(expect.arrayContaining(['answer', 'severity', 'text']));
    expect(offered(inRule('', '|'))).not.toContain('to');
  });

  it('offers the fields of a clause by its kind', () => {
    const fields = offered(inRule('|'));
    expect(fields).toEqual(['distinct', 'certainty', 'where', 'atLeast']);
  });

  it('offers values: of a list, of a switch, names that a reference may hold', () => {
    expect(offered(inRule('', 'answer: |'))).toEqual(['note', 'advise', 'ask', 'hold', 'block']);
    expect(offered('rules:\n  - endsPolicy: |')).toEqual(['true', 'false']);
    expect(offered(inRule('', 'text: |'))).toEqual(['Use the portal', 'A: strange name']);
    expect(offered('rules:\n  - when:\n      kind: |')).toEqual(
      expect.arrayContaining(['findings', 'time', 'any']),
    );
  });

  it('puts names in quotes that YAML would read otherwise', () => {
    const text = 'rules:\n  - bands:\n      - text: ';
    const options = completionsAt(text, text.length, POLICY_SCHEMA, NAMES)?.options;
    expect(options?.map(({ apply }) => apply)).toEqual(['Use the portal', '"A: strange name"']);
  });

  it('has nothing to offer where a schema says nothing', () => {
    expect(offered('name: |')).toEqual([]);
    expect(offered('nothing:\n  like: |')).toEqual([]);
  });

  it('replaces what was typed, not what stands before it', () => {
    const text = 'rules:\n  - id: r1\n    en';
    expect(completionsAt(text, text.length, POLICY_SCHEMA, NAMES)?.from).toBe(text.length - 2);
  });
});
