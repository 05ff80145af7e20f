import { de } from './de';
import { en } from './en';

const rooms = Object.keys(en) as (keyof typeof en)[];
type Message = string | ((...values: string[]) => string);
const messagesOf = (catalogue: object): [string, Message][] =>
  Object.entries(catalogue as Record<string, Record<string, Message>>).flatMap(([room, all]) =>
    Object.entries(all).map(([key, message]): [string, Message] => [`${room}.${key}`, message]),
  );
const german = new Map(messagesOf(de));

it('says everything in both languages, and nothing else', () => {
  expect(rooms).toEqual(Object.keys(de));
  expect(messagesOf(de).map(([key]) => key)).toEqual(messagesOf(en).map(([key]) => key));
});

it('says all that is given to a message', () => {
  for (const [key, message] of messagesOf(en)) {
    const told = german.get(key) as Message;
    if (typeof message === 'string') {
      expect([key, String(told).trim()]).not.toEqual([key, '']);
      continue;
    }
    const given = Array.from({ length: message.length }, (_, i) => `<${i}>`);
    for (const say of [message, told as typeof message]) expect([key, given.filter((value) => !say(...given).includes(value))]).toEqual([key, []]);
  }
});

it('ends sentences as sentences in both', () => {
  const unlike = messagesOf(en).filter(([key, message]) => {
    const told = german.get(key);
    return typeof message === 'string' && typeof told === 'string' && message.endsWith('.') !== told.endsWith('.');
  });
  expect(unlike).toEqual([]);
});
