/** A line around an element of the page, or of the page in the frame. */
export function Outline({ of: element }: { of: Element }) {
    const { left, top, width, height } = element.getBoundingClientRect();
    const frame = element.ownerDocument === document ? null : element.ownerDocument.defaultView?.frameElement?.getBoundingClientRect();
    const place = (box: HTMLDivElement | null): void => {
        // By script, since a policy of the page may forbid style attributes.
        Object.assign(box?.style ?? {}, {
            left: `${left + (frame?.left ?? 0)}px`,
            top: `${top + (frame?.top ?? 0)}px`,
            width: `${width}px`,
            height: `${height}px`,
        });
    };

    return <div ref={place} className="outline" />;
}
