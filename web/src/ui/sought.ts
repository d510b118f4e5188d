/** Options found by what was typed. No DOM. */
export interface SeekOption {
  value: string;
  text: string;
}

/** Options that hold every word of what was typed, in any order. */
export function sought<Option extends SeekOption>(options: Option[], text: string): Option[] {
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  return options.filter((one) => words.every((word) => one.text.toLowerCase().includes(word)));
}
