import { useCallback, useEffect, useRef, useState, type KeyboardEvent } from 'react';
import type { Opening } from '../answers';
import type { Draft } from '../change/Draft';
import { shownPage, type Running } from '../preview/run';
import type { Recorder } from '../record/Recorder';
import type { Edge, Ticket } from '../ticket';
import { Change } from './change/Change';
import { useDraft, useRunning, useShownOnPage } from './change/useDraft';
import { Look } from './Look';
import { Point } from './Point';
import { Record } from './Record';
import { Try } from './Try';
import { WidthFrame } from './WidthFrame';

export interface Shown {
    opening: Opening;
    ticket: Ticket;
    /** The runtime of this page; null where the page is shown in a frame, which has one of its own. */
    running: Running | null;
    /** What the link is to change; null where it changes nothing. */
    draft: Draft | null;
    recorder: Recorder;
    /** Keeps what was changed; the page is loaded again where that needs it. */
    change(to: Partial<Ticket>, again?: boolean): void;
    leave(): void;
}

const TABS = { change: 'Change', try: 'Try', look: 'This page', point: 'Point', record: 'Record' } as const;

const TABS_OF = { change: ['change', 'try', 'look', 'record'], look: ['try', 'look', 'point', 'record'], preview: ['try'] } as const;

const EDGES: [Edge, key: string][] = [
    ['bottom', 'ArrowDown'],
    ['top', 'ArrowUp'],
    ['left', 'ArrowLeft'],
    ['right', 'ArrowRight'],
];

/** The Loupe at an edge of the page, or folded to a handle there. */
export function Panel({ opening, running: own, draft, recorder, change, leave, ...given }: Shown) {
    const [ticket, setTicket] = useState(given.ticket);
    const [isSure, setIsSure] = useState(false);
    const [isWithout, setIsWithout] = useState(false);
    const [isTyping, setIsTyping] = useState(false);
    const [isPointing, setIsPointing] = useState(opening.purpose === 'change' && ticket.isPointing);
    const running = useRunning(own);
    const page = shownPage(own);
    useDraft(draft);
    useShownOnPage(draft, running, opening, isWithout, isTyping);
    const sheet = useRef<HTMLDivElement>(null);
    const frame = useRef<HTMLSpanElement>(null);
    const show = (to: Partial<Ticket>): void => {
        setTicket((before) => ({ ...before, ...to }));
        change(to);
    };
    useEffect(() => {
        const fold = (event: globalThis.KeyboardEvent): void => {
            if (event.altKey && event.shiftKey && event.code === 'KeyL') {
                event.preventDefault();
                const isFolded = !ticket.isFolded;
                setTicket((before) => ({ ...before, isFolded }));
                change({ isFolded });
            }
        };
        window.addEventListener('keydown', fold, { capture: true });

        return () => window.removeEventListener('keydown', fold, { capture: true });
    }, [change, ticket.isFolded]);
    useEffect(() => {
        const hold = (event: globalThis.KeyboardEvent): void => {
            if (event.type === 'keyup') {
                setIsWithout(false);
            } else if (event.altKey && event.shiftKey && event.code === 'KeyO') {
                event.preventDefault();
                setIsWithout(true);
            }
        };
        const names = ['keydown', 'keyup'] as const;
        names.forEach((name) => window.addEventListener(name, hold, { capture: true }));

        return () => names.forEach((name) => window.removeEventListener(name, hold, { capture: true }));
    }, []);
    const point = useCallback(
        (is: boolean): void => {
            setIsPointing(is);
            if (opening.purpose === 'change') {
                change({ isPointing: is });
            }
        },
        // Whoever is told is always the same.
        // eslint-disable-next-line react-hooks/exhaustive-deps
        [],
    );
    useEffect(() => {
        // What lies at the end of the page can be scrolled to above the sheet; nothing of the page itself moves.
        const root = frame.current?.getRootNode();
        if (root instanceof ShadowRoot) {
            const isBelow = !ticket.isFolded && ticket.edge === 'bottom';
            Object.assign((root.host as HTMLElement).style, {
                display: isBelow ? 'block' : '',
                height: isBelow ? `${sheet.current?.offsetHeight ?? 0}px` : '',
            });
        }
    }, [ticket.isFolded, ticket.edge]);
    useEffect(() => {
        if (!ticket.isFolded) {
            sheet.current?.focus();
        }
    }, [ticket.isFolded]);
    const move = (event: KeyboardEvent): void => {
        const edge = EDGES.find(([, key]) => key === event.key)?.[0];
        if (edge) {
            event.preventDefault();
            show({ edge });
        }
    };
    // A script is that of an experiment.
    const tabs: readonly Ticket['tab'][] = window.pellixCopy
        ? ['change']
        : TABS_OF[opening.purpose].filter((one) => one !== 'record' || opening.experiment !== null);
    const tab = tabs.includes(ticket.tab) ? ticket.tab : tabs[0];

    return (
        <>
            <span ref={frame} />
            {ticket.width !== null && <WidthFrame width={ticket.width} edge={ticket.isFolded ? null : ticket.edge} />}
            {ticket.isFolded ? (
                <button
                    type="button"
                    className={`handle ${ticket.edge}`}
                    title="Open the Loupe (Alt+Shift+L)"
                    onClick={() => show({ isFolded: false })}
                >
                    Loupe: preview
                </button>
            ) : (
                <div
                    ref={sheet}
                    tabIndex={-1}
                    role="region"
                    aria-label={`Loupe: preview of ${opening.site}`}
                    className={`sheet ${ticket.edge}`}
                >
                    <div className="bar">
                        <span role="tablist" aria-label="Loupe">
                            {tabs.map((one) => (
                                <button
                                    key={one}
                                    type="button"
                                    role="tab"
                                    id={`tab-${one}`}
                                    aria-selected={tab === one}
                                    aria-controls="body"
                                    tabIndex={tab === one ? 0 : -1}
                                    onClick={() => show({ tab: one })}
                                    onKeyDown={(event) => {
                                        if (event.key === 'ArrowLeft' || event.key === 'ArrowRight') {
                                            const step = event.key === 'ArrowRight' ? 1 : tabs.length - 1;
                                            const next = tabs[(tabs.indexOf(one) + step) % tabs.length];
                                            show({ tab: next });
                                            (event.currentTarget.parentElement?.children[tabs.indexOf(next)] as HTMLElement)?.focus();
                                        }
                                    }}
                                >
                                    {TABS[one]}
                                </button>
                            ))}
                        </span>
                        <span className="who">
                            {whose(opening)}:{' '}
                            {window.pellixCopy
                                ? `on a copy of ${new URL(window.pellixCopy.url).pathname}, inspected ${inspected(opening, window.pellixCopy.at)}, without scripts and pictures.`
                                : 'nothing that you do here is counted.'}
                        </span>
                        <button
                            type="button"
                            title="Arrow keys move it to another edge"
                            onKeyDown={move}
                            onClick={() => show({ edge: next(ticket.edge) })}
                        >
                            Move
                        </button>
                        <button type="button" title="Alt+Shift+L" onClick={() => show({ isFolded: true })}>
                            Fold
                        </button>
                        {isSure ? (
                            <>
                                <button type="button" onClick={leave}>
                                    End the preview: the page becomes an ordinary one
                                </button>
                                <button type="button" onClick={() => setIsSure(false)}>
                                    Go on
                                </button>
                            </>
                        ) : (
                            <button type="button" onClick={() => setIsSure(true)}>
                                End…
                            </button>
                        )}
                    </div>
                    <div className="body" id="body" role="tabpanel" aria-labelledby={`tab-${tab}`} tabIndex={0}>
                        {tab === 'try' ? (
                            <Try opening={opening} ticket={ticket} change={(to, again) => (again ? change(to, true) : show(to))} />
                        ) : tab === 'look' ? (
                            <Look opening={opening} ticket={ticket} running={own} />
                        ) : tab === 'record' ? (
                            <Record
                                opening={opening}
                                token={ticket.token}
                                running={own}
                                recorder={recorder}
                                isFramed={ticket.width !== null}
                            />
                        ) : tab === 'change' && draft ? (
                            <Change
                                opening={opening}
                                draft={draft}
                                token={ticket.token}
                                running={running}
                                page={page}
                                isPointing={isPointing}
                                onPointing={point}
                                onWithout={setIsWithout}
                                onTyping={setIsTyping}
                            />
                        ) : (
                            <Point page={page} isPointing={isPointing} onPointing={point} />
                        )}
                    </div>
                </div>
            )}
        </>
    );
}

function inspected({ time_zone }: Opening, at: string): string {
    return new Intl.DateTimeFormat('en-GB', { timeZone: time_zone, dateStyle: 'medium', timeStyle: 'short' }).format(new Date(at));
}

function whose({ draft, experiment, variant, experiments, site }: Opening): string {
    const named = experiments.find(({ key }) => key === experiment);

    return draft
        ? `Changing “${named?.variants.find(({ key }) => key === variant)?.name ?? variant}” of ${named?.name ?? experiment}`
        : `Preview of ${site}`;
}

function next(edge: Edge): Edge {
    const all = EDGES.map(([one]) => one);

    return all[(all.indexOf(edge) + 1) % all.length];
}
