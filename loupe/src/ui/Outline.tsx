import { lineOf, type Spot } from '../change/place';

interface Box {
    left: number;
    top: number;
    width: number;
    height: number;
}

/** A line around an element of the page, or of the page in the frame. */
export function Outline({ of: element, look = '' }: { of: Element; look?: '' | 'chosen' }) {
    return <Placed box={element.getBoundingClientRect()} page={element.ownerDocument} className={`outline ${look}`} />;
}

/** Where something goes that is dragged. */
export function DropLine({ at }: { at: Spot }) {
    return <Placed box={lineOf(at)} page={at.target.ownerDocument} className="drop" />;
}

function Placed({ box: { left, top, width, height }, page, className }: { box: Box; page: Document; className: string }) {
    const frame = page === document ? null : page.defaultView?.frameElement?.getBoundingClientRect();
    const place = (box: HTMLDivElement | null): void => {
        // By script, since a policy of the page may forbid style attributes.
        Object.assign(box?.style ?? {}, {
            left: `${left + (frame?.left ?? 0)}px`,
            top: `${top + (frame?.top ?? 0)}px`,
            width: `${width}px`,
            height: `${height}px`,
        });
    };

    return <div ref={place} className={className} />;
}
