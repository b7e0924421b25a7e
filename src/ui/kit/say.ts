/** Messages that do not stop the work. What shows them is fetched beside the page; what is said before it is there waits. */
import type { ExternalToast, toast } from 'sonner';

let speaker: typeof toast | null = null;
const waiting: ((by: typeof toast) => void)[] = [];

/** Whoever shows messages is there from now on. */
export function speakBy(by: typeof toast): void {
  speaker = by;
  for (const said of waiting.splice(0)) said(by);
}

const once = (said: (by: typeof toast) => void): void => {
  if (speaker) said(speaker);
  else waiting.push(said);
};

export const say = {
  message: (words: string, how?: ExternalToast) => once((by) => by.message(words, how)),
  error: (words: string, how?: ExternalToast) => once((by) => by.error(words, how)),
};
