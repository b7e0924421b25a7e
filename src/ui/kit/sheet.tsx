'use client';
/** What a dialog is made of; fetched when the first is opened. */
import type { ReactNode } from 'react';
import { Dialog } from 'react-aria-components/Dialog';
import { Modal, ModalOverlay } from 'react-aria-components/Modal';

export interface SheetProps {
  title: string;
  onClose: () => void;
  children: ReactNode;
  /** Neither Esc nor a press beside it closes it. */
  mustChoose?: boolean;
  /** For what is looked at rather than answered. */
  wide?: boolean;
}

/** A modal sheet; Esc and a press beside it close it, and the keyboard is where it was before. */
export function Sheet({ title, onClose, children, mustChoose = false, wide = false }: SheetProps) {
  return (
    <ModalOverlay
      className="veil"
      isOpen
      isDismissable={!mustChoose}
      isKeyboardDismissDisabled={mustChoose}
      onOpenChange={(open) => open || onClose()}
    >
      <Modal className={`sheet veil-sheet ${wide ? 'veil-wide' : ''}`}>
        <Dialog aria-label={title} className="px-5 py-4 outline-none" style={{ minWidth: 'min(340px, 80vw)' }}>
          <div className="flex items-start gap-3 rule-double pb-2 mb-3">
            <h2 className="text-[15px] font-semibold mr-auto min-w-0 truncate" title={title}>
              {title}
            </h2>
            {wide && (
              <button type="button" className="btn btn-line btn-sm btn-tight" onClick={onClose}>
                Close
              </button>
            )}
          </div>
          {children}
        </Dialog>
      </Modal>
    </ModalOverlay>
  );
}
