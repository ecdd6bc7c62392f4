import { Description, Field as Group, Input, Label, Textarea } from '@headlessui/react';
import type { InputHTMLAttributes, ReactNode, TextareaHTMLAttributes } from 'react';

export const BOX =
    'w-full min-h-8.5 rounded-xs border bg-leaf px-2 py-1 border-[#8b8f96] focus:border-accent data-[invalid]:border-broken aria-[invalid=true]:border-broken';

interface Around {
    label: string;
    error?: string;
    note?: ReactNode;
    hideLabel?: boolean;
}

/** A labelled control with its note, and its error right below it. */
export function Field({ label, error, note, hideLabel, children }: Around & { children: ReactNode }) {
    return (
        <Group className="min-w-0">
            <Label className={hideLabel ? 'sr-only' : 'mb-0.5 block font-semibold'}>{label}</Label>
            {children}
            {note && <Description className="mt-0.5 text-sm text-soft">{note}</Description>}
            {error && (
                <Description className="mt-0.5 text-sm text-broken" role="alert">
                    {error}
                </Description>
            )}
        </Group>
    );
}

export function TextField({ label, error, note, hideLabel, className = '', ...rest }: Around & InputHTMLAttributes<HTMLInputElement>) {
    return (
        <Field {...{ label, error, note, hideLabel }}>
            <Input className={`${BOX} ${className}`} invalid={Boolean(error)} {...rest} />
        </Field>
    );
}

export function TextArea({ label, error, note, className = '', ...rest }: Around & TextareaHTMLAttributes<HTMLTextAreaElement>) {
    return (
        <Field {...{ label, error, note }}>
            <Textarea className={`block ${BOX} ${className}`} rows={2} invalid={Boolean(error)} {...rest} />
        </Field>
    );
}
