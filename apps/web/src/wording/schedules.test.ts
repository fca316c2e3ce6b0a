import { repeatOf, ruleOf, scheduleWords } from './schedules';

it.each([
  ['FREQ=DAILY', 'days'],
  ['FREQ=WEEKLY;BYDAY=MO,TU,WE,TH,FR', 'workdays'],
  ['FREQ=WEEKLY;BYDAY=TH', 'weeks'],
  ['FREQ=MONTHLY;BYMONTHDAY=15', 'months'],
] as const)('%s is chosen as %s, and written the same', (rule, repeat) => {
  const chosen = repeatOf(rule);
  expect(chosen.repeat).toBe(repeat);
  expect(ruleOf(repeat, chosen.weekday, chosen.day)).toBe(rule);
});

it('leaves a rule that somebody wrote as it is', () => {
  expect(repeatOf('FREQ=MONTHLY;BYDAY=1FR').repeat).toBe('own');
  expect(scheduleWords({ rule: 'FREQ=MONTHLY;BYDAY=1FR', time: '08:00', zone: 'UTC' })).toBe(
    'FREQ=MONTHLY;BYDAY=1FR at 08:00, UTC',
  );
});
