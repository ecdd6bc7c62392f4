import { useState, type FormEvent } from 'react';
import { isSelector } from '../../../../runtime/src/elements';
import type { Place } from '../../../../runtime/src/types';
import { placeWords } from '../../change/place';
import type { Change } from '../../change/list';
import { found } from '../../look/changes';
import { Area, Field, type FieldProps } from '../Field';
import { WidthChoice } from './WidthChoice';

interface Props {
    /** As it is by now. */
    change: Change;
    /** What the form is called. */
    title: string;
    page: Document;
    onChange: (change: Change) => void;
    onKeep: (change: Change) => void;
    onCancel: () => void;
    /** Has the next element that is pointed at be the place that it moves to. */
    onPointAtPlace: () => void;
    isPointingAtPlace: boolean;
}

const PLACES: Place[] = ['before', 'after', 'first', 'last'];
const ATTRIBUTES = [
    'href',
    'src',
    'srcset',
    'alt',
    'title',
    'placeholder',
    'value',
    'aria-label',
    'target',
    'type',
    'name',
    'disabled',
    'hidden',
];

/** What one change takes, by its kind; nothing is changed before it is kept. */
export function ChangeForm({ change, title, page, onChange, onKeep, onCancel, onPointAtPlace, isPointingAtPlace }: Props) {
    const [wrong, setWrong] = useState('');
    const set = (next: Partial<Change>): void => {
        setWrong('');
        onChange({ ...change, ...next });
    };
    const keep = (event: FormEvent): void => {
        event.preventDefault();
        const message = mistake(change);
        setWrong(message);
        if (message === '') {
            onKeep(change);
        }
    };

    return (
        <form onSubmit={keep} noValidate aria-label={title} className="form">
            <h2>{title}</h2>
            {change.selector !== undefined && (
                <Field
                    label="Elements (selector)"
                    value={change.selector}
                    mono
                    onValue={(selector) => set({ selector })}
                    note={counted(change.selector, page)}
                />
            )}
            {change.kind === 'attribute' && (
                <>
                    <Field
                        label="Attribute"
                        value={change.attribute ?? ''}
                        mono
                        options={ATTRIBUTES}
                        onValue={(attribute) => set({ attribute })}
                    />
                    <label className="choice">
                        <input
                            type="checkbox"
                            checked={change.value === null}
                            onChange={(event) => set({ value: event.target.checked ? null : '' })}
                        />
                        take it off
                    </label>
                </>
            )}
            {change.kind === 'style' && (
                <Field label="Property" value={change.property ?? ''} mono onValue={(property) => set({ property })} />
            )}
            {change.kind === 'move' || change.kind === 'insert' ? (
                <div>
                    <label className="label" htmlFor="place">
                        Where
                    </label>
                    <select id="place" value={change.place} onChange={(event) => set({ place: event.target.value as Place })}>
                        {PLACES.map((place) => (
                            <option key={place} value={place}>
                                {placeWords(place)}
                            </option>
                        ))}
                    </select>
                    {change.kind === 'insert' && <span className="soft"> the element</span>}
                </div>
            ) : null}
            {change.kind === 'move' && (
                <>
                    <Field
                        label="of the element (selector)"
                        value={change.to ?? ''}
                        mono
                        onValue={(to) => set({ to })}
                        note={counted(change.to ?? '', page)}
                    />
                    <button type="button" className="plain" aria-pressed={isPointingAtPlace} onClick={onPointAtPlace}>
                        {isPointingAtPlace ? 'Choose it on the page now…' : 'Point at it'}
                    </button>
                </>
            )}
            {change.kind === 'class' && (
                <>
                    <Names label="Classes to add" value={change.add} onValue={(add) => set({ add })} />
                    <Names label="Classes to take off" value={change.remove} onValue={(remove) => set({ remove })} />
                </>
            )}
            {['text', 'html', 'insert', 'sheet', 'script'].includes(change.kind) && (
                <Area
                    label={LABELS[change.kind] ?? ''}
                    value={change.value ?? ''}
                    mono={change.kind !== 'text'}
                    onValue={(value) => set({ value })}
                />
            )}
            {(change.kind === 'style' || (change.kind === 'attribute' && change.value !== null)) && (
                <Field label="Value" value={change.value ?? ''} mono onValue={(value) => set({ value })} />
            )}
            {change.selector !== undefined && <WidthChoice media={change.media} onMedia={(media) => set({ media })} />}
            {wrong && (
                <p role="alert" className="broken">
                    {wrong}
                </p>
            )}
            <p className="tools">
                <button type="submit" className="main">
                    Keep this change
                </button>
                <button type="button" className="plain" onClick={onCancel}>
                    Cancel
                </button>
            </p>
        </form>
    );
}

const LABELS: Partial<Record<Change['kind'], string>> = {
    text: 'New text',
    html: 'HTML inside it',
    insert: 'HTML to put in',
    sheet: 'Style sheet',
    script: 'Script (runs once a page)',
};

/** What is wrong with a change, as far as it can be told here; the rest Pellix says at the step. */
function mistake(change: Change): string {
    if (change.selector !== undefined && change.selector.trim() === '') {
        return 'Say which elements are meant: a selector is needed.';
    }
    if (change.selector !== undefined && !isSelector(change.selector)) {
        return 'The browser does not know this as a selector.';
    }
    if (change.kind === 'move' && (!change.to?.trim() || !isSelector(change.to))) {
        return 'Say where it moves to: point at an element there.';
    }
    if (change.kind === 'attribute' && !change.attribute?.trim()) {
        return 'Say which attribute is meant.';
    }
    if (change.kind === 'style' && !CSS.supports(change.property ?? '', change.value ?? '')) {
        return `This browser knows no ${change.property || 'property'} with the value “${change.value}”.`;
    }
    if (change.kind === 'class' && !change.add?.length && !change.remove?.length) {
        return 'Name a class to be added or taken off.';
    }
    if (['text', 'html', 'insert', 'sheet', 'script'].includes(change.kind) && !change.value?.trim()) {
        return change.kind === 'text' ? 'An empty text is none: hide the element, or remove it.' : 'There is nothing in it yet.';
    }

    return '';
}

function counted(selector: string, page: Document): string {
    if (selector.trim() === '') {
        return '';
    }
    const { length } = found(selector, page);

    return length === 0
        ? 'No element of this page matches it now.'
        : length === 1
          ? 'One element of this page.'
          : `${length} elements of this page.`;
}

function Names({ label, value, onValue }: FieldProps<string[] | undefined>) {
    return (
        <Field label={label} mono value={(value ?? []).join(' ')} onValue={(text) => onValue(text === '' ? undefined : text.split(/\s/))} />
    );
}
