import { useEffect, useState } from 'react';

const SWITCH = 'pellix.single-keys';

/** Whether keys without Ctrl do anything: people who speak or dictate need them off (WCAG 2.2, 2.1.4). */
export function singleKeysAreOn(): boolean {
    return localStorage.getItem(SWITCH) !== 'off';
}

export function useSingleKeys(): [boolean, (on: boolean) => void] {
    const [on, setOn] = useState(singleKeysAreOn);

    return [
        on,
        (next) => {
            localStorage.setItem(SWITCH, next ? 'on' : 'off');
            setOn(next);
        },
    ];
}

/** Calls back for single keys pressed outside of fields and dialogs. The sequence `g` then a letter arrives as `g b`. */
export function useKeys(handlers: Record<string, () => void>): void {
    useEffect(() => {
        let prefix = '';
        const press = (event: KeyboardEvent): void => {
            const target = event.target as HTMLElement;
            const busy = target.closest('input, textarea, [role=listbox], [role=dialog], [contenteditable]') !== null;
            if (busy || event.ctrlKey || event.metaKey || event.altKey || !singleKeysAreOn()) {
                return;
            }
            const key = prefix + event.key;
            prefix = event.key === 'g' ? 'g ' : '';
            // Enter belongs to the link or button that has the focus, if one has.
            if (handlers[key] && !(event.key === 'Enter' && target.closest('a, button'))) {
                event.preventDefault();
                handlers[key]();
            }
        };
        addEventListener('keydown', press);

        return () => removeEventListener('keydown', press);
    });
}
