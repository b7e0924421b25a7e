import type { Announcements, UniqueIdentifier } from '@dnd-kit/core';

/** What is said of a drag, by the names of things. */
export function dragWords(
  nameOf: (id: UniqueIdentifier) => string,
  how: string,
): { announcements: Announcements; screenReaderInstructions: { draggable: string } } {
  const at = (over: { id: UniqueIdentifier } | null) => (over ? `over ${nameOf(over.id)}` : 'over nothing');
  return {
    announcements: {
      onDragStart: ({ active }) => `${nameOf(active.id)} is taken up.`,
      onDragOver: ({ active, over }) => `${nameOf(active.id)} is ${at(over)}.`,
      onDragEnd: ({ active, over }) =>
        over ? `${nameOf(active.id)} is put at ${nameOf(over.id)}.` : `${nameOf(active.id)} stays where it was.`,
      onDragCancel: ({ active }) => `${nameOf(active.id)} stays where it was.`,
    },
    screenReaderInstructions: { draggable: how },
  };
}
