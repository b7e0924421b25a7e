'use client';
/** Two panes side by side with a bar between them that is dragged, or moved by arrows; the size is kept. In small windows they are as they come. */
import { type ReactNode, useSyncExternalStore } from 'react';
import { Group, Panel, Separator, useDefaultLayout } from 'react-resizable-panels';

/** Where panes lie side by side: the other side of the break in the style sheet. */
const SIDE_BY_SIDE = '(min-width: 1100px) and (min-height: 600px)';

function useMatches(query: string): boolean {
  return useSyncExternalStore(
    (told) => {
      const list = window.matchMedia(query);
      list.addEventListener('change', told);
      return () => list.removeEventListener('change', told);
    },
    () => window.matchMedia(query).matches,
    () => true,
  );
}

/** A browser that keeps nothing has the sizes they came with. */
const STORAGE = {
  getItem(key: string) {
    try {
      return localStorage.getItem(key);
    } catch {
      return null;
    }
  },
  setItem(key: string, value: string) {
    try {
      localStorage.setItem(key, value);
    } catch {
      // then they hold until the page is left
    }
  },
};

interface Props {
  id: string;
  /** Of the first pane, px. */
  start: number;
  least: number;
  most: number;
  label: string;
  first: ReactNode;
  second: ReactNode;
}

export function Panes(props: Props) {
  const wide = useMatches(SIDE_BY_SIDE);
  return wide ? (
    <Divided {...props} />
  ) : (
    <>
      {props.first}
      {props.second}
    </>
  );
}

function Divided({ id, start, least, most, label, first, second }: Props) {
  const { defaultLayout, onLayoutChanged } = useDefaultLayout({
    id: `scaphos-panes-${id}`,
    storage: STORAGE,
    onlySaveAfterUserInteractions: true,
  });
  return (
    <Group className="panes" defaultLayout={defaultLayout} onLayoutChanged={onLayoutChanged}>
      <Panel id="first" className="pane" defaultSize={start} minSize={least} maxSize={most} groupResizeBehavior="preserve-pixel-size">
        {first}
      </Panel>
      <Separator className="pane-bar" aria-label={label} />
      <Panel id="second" className="pane" minSize={300}>
        {second}
      </Panel>
    </Group>
  );
}
