import { Listbox, ListboxButton, ListboxOption, ListboxOptions } from '@headlessui/react';
import { BOX } from './Field';

interface Props<T extends string> {
    label: string;
    value: T;
    options: { value: T; label: string }[];
    onChange: (value: T) => void;
    className?: string;
}

/** One of a few; the label is read out together with what is chosen, not shown. */
export function Choice<T extends string>({ label, value, options, onChange, className = '' }: Props<T>) {
    const chosen = options.find((option) => option.value === value)?.label ?? '';

    return (
        <Listbox value={value} onChange={onChange}>
            <ListboxButton
                aria-label={`${label}: ${chosen}`}
                className={`${BOX} flex items-center justify-between gap-2 text-left ${className}`}
            >
                {chosen}
                <svg viewBox="0 0 10 6" width="10" height="6" aria-hidden="true">
                    <path d="m1 1 4 4 4-4" fill="none" stroke="currentColor" strokeWidth="1.5" />
                </svg>
            </ListboxButton>
            <ListboxOptions anchor="bottom start" className="z-20 min-w-(--button-width) border border-ink bg-leaf py-1 focus:outline-none">
                {options.map((option) => (
                    <ListboxOption
                        key={option.value}
                        value={option.value}
                        className="cursor-pointer px-3 py-1 data-focus:bg-accent data-focus:text-white"
                    >
                        {option.label}
                    </ListboxOption>
                ))}
            </ListboxOptions>
        </Listbox>
    );
}
