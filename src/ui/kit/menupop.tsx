'use client';
/** The list of a menu; fetched when the first menu is about to be opened. */
import { Check } from 'lucide-react';
import type { RefObject } from 'react';
import { Header } from 'react-aria-components/Header';
import { Menu, MenuItem, MenuSection } from 'react-aria-components/Menu';
import { Popover } from 'react-aria-components/Popover';
import type { MenuEntry, MenuGroup } from './menu';

export function MenuPop({
  label,
  groups,
  align,
  triggerRef,
  first,
  onClose,
}: {
  label: string;
  groups: readonly MenuGroup[];
  align: 'left' | 'right';
  triggerRef: RefObject<HTMLElement | null>;
  /** Where the keyboard begins. */
  first: 'first' | 'last';
  onClose: () => void;
}) {
  return (
    <Popover
      className="menu-pop"
      triggerRef={triggerRef}
      placement={align === 'right' ? 'bottom end' : 'bottom start'}
      offset={4}
      isOpen
      onOpenChange={(open) => open || onClose()}
    >
      <Menu aria-label={label} autoFocus={first} onClose={onClose} className="menu-list" shouldFocusWrap>
        {groups.map((g) => (
          <Group key={g.id} group={g} />
        ))}
      </Menu>
    </Popover>
  );
}

function Group({ group }: { group: MenuGroup }) {
  const chosen = group.entries.filter((e) => e.chosen).map((e) => e.id);
  return (
    <MenuSection
      aria-label={group.title ?? group.id}
      className="menu-group"
      style={group.columns ? { display: 'grid', gridTemplateColumns: `repeat(${group.columns}, 1fr)` } : undefined}
      shouldCloseOnSelect={!group.stays}
      {...(group.choice ? { selectionMode: 'single' as const, disallowEmptySelection: true, selectedKeys: chosen } : {})}
    >
      {group.title && <Header className="menu-head">{group.title}</Header>}
      {group.entries.map((e) => (
        <Entry key={e.id} entry={e} choice={group.choice ?? false} />
      ))}
    </MenuSection>
  );
}

function Entry({ entry: e, choice }: { entry: MenuEntry; choice: boolean }) {
  return (
    <MenuItem
      id={e.id}
      className="menu-item"
      textValue={e.text ?? (typeof e.label === 'string' ? e.label : e.id)}
      isDisabled={e.off !== undefined}
      onAction={e.act}
    >
      {e.mark}
      <span className="min-w-0">
        <span className={`block truncate ${e.about ? 'font-semibold' : ''}`}>{e.label}</span>
        {(e.off ?? e.about) && <span className="block text-micro soft menu-about">{e.off ?? e.about}</span>}
      </span>
      {e.hint && (
        <span className="soft text-micro ml-auto pl-3" aria-hidden="true">
          {e.hint}
        </span>
      )}
      {choice && e.chosen && <Check className="ico ml-auto" />}
    </MenuItem>
  );
}
