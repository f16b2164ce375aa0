const plain = (words: string) =>
  words
    .toLowerCase()
    .replace(/[^\p{Letter}\p{Number} ]+/gu, " ")
    .replace(/ +/g, " ")
    .trim();

const within = (inner: string, outer: string) => ` ${outer} `.includes(` ${inner} `);

/**
 * The answer that was meant by what was heard: the one whose words were all said, else the only one that what was said is part of.
 * Null where it could be two, or none: a wrong answer is worse than a tap.
 */
export function answerHeard<T extends { words: string }>(answers: readonly T[], heard: string): T | null {
  const said = plain(heard);
  if (said === "") return null;
  const whole = answers.filter((a) => within(plain(a.words), said));
  const longest = Math.max(0, ...whole.map((a) => plain(a.words).length));
  const meant = whole.length > 0 ? whole.filter((a) => plain(a.words).length === longest) : [];
  const found = meant.length > 0 ? meant : answers.filter((a) => within(said, plain(a.words)));
  const [only, ...others] = found;
  // Two whole answers in one breath, "rises, no, sinks", are none.
  const second = whole.some((a) => a !== only && only && !within(plain(a.words), plain(only.words)));
  return only && others.length === 0 && !second ? only : null;
}
