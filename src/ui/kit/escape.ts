/** While something is held by the pointer, Esc lets it go as it was. Returns what ends it; whoever lets go ends it. */
export function onEscape(putBack: () => void): () => void {
  const end = () => window.removeEventListener('keydown', key, true);
  const key = (e: KeyboardEvent) => {
    if (e.key !== 'Escape') return;
    // the key meant the drag, nothing else
    e.preventDefault();
    e.stopImmediatePropagation();
    end();
    putBack();
  };
  window.addEventListener('keydown', key, true);
  return end;
}
