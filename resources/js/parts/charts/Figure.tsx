import { useEffect, useRef, useState, type ReactNode } from 'react';
import { useSearchParams } from 'react-router';
import { Button } from '../Button';

interface Props {
    title: string;
    /** What it shows, in a sentence: the text alternative. */
    summary: string;
    /** The same figures as a table, which is what it is drawn from. */
    table: ReactNode;
    children: (width: number) => ReactNode;
}

const LEAST = 300;

/** A picture of figures, as wide as there is room, with its summary; the table that it is drawn from is one click away and has an address. */
export function Figure({ title, summary, table, children }: Props) {
    const frame = useRef<HTMLDivElement>(null);
    const [width, setWidth] = useState(0);
    const [params, setParams] = useSearchParams();
    const asTable = params.get('table') === '1';
    useEffect(() => {
        const element = frame.current;
        if (!element) {
            return;
        }
        const measure = (): void => setWidth(Math.max(LEAST, Math.floor(element.clientWidth)));
        measure();
        const observer = new ResizeObserver(measure);
        observer.observe(element);

        return () => observer.disconnect();
    }, []);
    const turn = (): void =>
        setParams(
            (before) => {
                const next = new URLSearchParams(before);
                if (asTable) {
                    next.delete('table');
                } else {
                    next.set('table', '1');
                }

                return next;
            },
            { replace: true },
        );

    return (
        <figure className="min-w-0">
            <figcaption className="mb-2 flex flex-wrap items-baseline gap-x-4 gap-y-1">
                <h2 className="text-lg font-semibold">{title}</h2>
                <p className="min-w-0 flex-1 basis-80">{summary}</p>
                <Button aria-pressed={asTable} onClick={turn}>
                    {asTable ? 'Show the picture' : 'Show the table'}
                </Button>
            </figcaption>
            <div ref={frame}>
                {asTable ? table : width > 0 && <div className="border-y border-line bg-leaf py-2">{children(width)}</div>}
            </div>
        </figure>
    );
}
