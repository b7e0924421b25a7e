/** Every word typed is somewhere in it; the better, the earlier a word of it begins so. */
export function rank(value: string, typed: string): number {
  const text = value.toLowerCase();
  let sum = 0;
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  for (const word of words) {
    const at = text.indexOf(word);
    if (at < 0) return 0;
    const begins = ` ${text}`.indexOf(` ${word}`);
    sum += begins < 0 ? 0.2 : 0.5 + 0.5 / (1 + begins / 10);
  }
  return words.length === 0 ? 1 : sum / words.length;
}
