import { useId, useState } from 'react';
import { colour, contrastOf, hex } from '../../change/contrast';
import type { Change } from '../../change/list';
import { WidthChoice } from './WidthChoice';
import { fontsOf, GROUPS, lengthOf, UNITS, type Property } from '../../change/styles';

interface Props {
    element: Element;
    selector: string;
    list: Change[];
    /** Widths that what is chosen here is bound to. */
    media: string | undefined;
    onMedia: (media: string | undefined) => void;
    onStyle: (property: string, value: string) => void;
    onTakeBack: (property: string) => void;
}

/** What the element looks like, to be changed by controls; each change is a step at once. */
export function Styles({ element, selector, list, media, onMedia, onStyle, onTakeBack }: Props) {
    const now = getComputedStyle(element);
    const contrast = contrastOf(element);
    const own = (property: string): Change | undefined =>
        list.find((one) => one.kind === 'style' && one.selector === selector && one.property === property && one.media === media);

    return (
        <section aria-label="Style">
            <p className={contrast === null ? 'soft' : contrast.holds ? 'holds' : 'broken'}>
                {contrast === null
                    ? 'The contrast of its text cannot be told: there is a picture behind it.'
                    : `Contrast of its text ${contrast.ratio.toFixed(2)} : 1, ${contrast.holds ? 'enough' : 'too little'}: WCAG 2.2 (1.4.3) asks for ${contrast.needed} : 1.`}
            </p>
            <WidthChoice media={media} onMedia={onMedia} />
            {GROUPS.map(({ name, properties }) => (
                <fieldset key={name} className="styles">
                    <legend>{name}</legend>
                    {properties.map((one) => (
                        <Control
                            key={one.property}
                            of={one}
                            value={own(one.property)?.value ?? now.getPropertyValue(one.property)}
                            page={element.ownerDocument}
                            isChanged={own(one.property) !== undefined}
                            onValue={(value) => onStyle(one.property, value)}
                            onTakeBack={() => onTakeBack(one.property)}
                        />
                    ))}
                </fieldset>
            ))}
        </section>
    );
}

interface ControlProps {
    of: Property;
    /** As it was chosen, or else as the browser has computed it. */
    value: string;
    page: Document;
    isChanged: boolean;
    onValue: (value: string) => void;
    onTakeBack: () => void;
}

function Control({ of: one, value, page, isChanged, onValue, onTakeBack }: ControlProps) {
    const id = useId();

    return (
        <div className={isChanged ? 'changed' : ''}>
            <label className="label" htmlFor={id}>
                {one.label}
                <span className="hidden"> ({one.property})</span>
            </label>
            {one.control === 'colour' ? (
                <ColourField id={id} value={value} onValue={onValue} />
            ) : one.control === 'length' ? (
                <LengthField id={id} value={value} label={one.label} onValue={onValue} />
            ) : one.control === 'choice' || one.control === 'font' ? (
                <select id={id} value={value} onChange={(event) => onValue(event.target.value)}>
                    {[...new Set([value, ...(one.options ?? fontsOf(page))])].map((option) => (
                        <option key={option} value={option}>
                            {option.length > 28 ? `${option.slice(0, 28)}…` : option}
                        </option>
                    ))}
                </select>
            ) : (
                <TypedField id={id} value={value} onValue={onValue} />
            )}
            {isChanged && (
                <button type="button" className="link" onClick={onTakeBack} aria-label={`as it was: ${one.label} (${one.property})`}>
                    as it was
                </button>
            )}
        </div>
    );
}

/** Typed, and a step when it is left or Enter is pressed. */
function TypedField({ id, value, onValue }: { id: string; value: string; onValue: (value: string) => void }) {
    const [typed, setTyped] = useState<string | null>(null);
    const keep = (): void => {
        if (typed !== null && typed.trim() !== '' && typed !== value) {
            onValue(typed.trim());
        }
        setTyped(null);
    };

    return (
        <input
            id={id}
            className="mono short"
            value={typed ?? value}
            onChange={(event) => setTyped(event.target.value)}
            onBlur={keep}
            onKeyDown={(event) => event.key === 'Enter' && keep()}
        />
    );
}

function ColourField({ id, value, onValue }: { id: string; value: string; onValue: (value: string) => void }) {
    const now = colour(value);
    const isClear = now === null || now[3] === 0;

    return (
        <span className="pair">
            <input
                type="color"
                aria-label="Choose the colour"
                value={isClear ? '#ffffff' : hex(now)}
                onChange={(event) => onValue(event.target.value)}
            />
            <TypedField id={id} value={isClear ? 'transparent' : now[3] === 1 ? hex(now) : value} onValue={onValue} />
        </span>
    );
}

function LengthField({ id, value, label, onValue }: { id: string; value: string; label: string; onValue: (value: string) => void }) {
    const { number, unit } = lengthOf(value);
    const [chosen, setChosen] = useState<string | null>(null);

    return (
        <span className="pair">
            <TypedField
                id={id}
                value={number || value}
                onValue={(typed) => onValue(/^-?[\d.]+$/.test(typed) ? `${typed}${chosen ?? unit}` : typed)}
            />
            <select aria-label={`Unit of ${label}`} value={chosen ?? unit} onChange={(event) => setChosen(event.target.value)}>
                {UNITS.map((one) => (
                    <option key={one}>{one}</option>
                ))}
            </select>
        </span>
    );
}
