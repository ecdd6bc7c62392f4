import { useId } from 'react';
import { WIDTHS, widthWords } from '../../change/widths';

/** The screens that a change is made on. */
export function WidthChoice({ media, onMedia }: { media: string | undefined; onMedia: (media: string | undefined) => void }) {
    const id = useId();
    const isKnown = media === undefined || WIDTHS.some(([one]) => one === media);

    return (
        <div>
            <label className="label" htmlFor={id}>
                On screens
            </label>
            <select id={id} value={media ?? ''} onChange={(event) => onMedia(event.target.value || undefined)}>
                <option value="">of any width</option>
                {WIDTHS.map(([one, label]) => (
                    <option key={one} value={one}>
                        {label}
                    </option>
                ))}
                {!isKnown && <option value={media}>{widthWords(media)}</option>}
            </select>
        </div>
    );
}
