import { useEffect, useReducer, useRef, useState } from 'react';
import { ask, type Heard, type Named, type Opening } from '../answers';
import { changesOf, changeWords, type ChangeState } from '../look/changes';
import { entryOf, type Entry } from '../look/entry';
import { losingWords } from '../look/overruled';
import { asText } from '../look/text';
import { storedValues } from '../look/stored';
import type { Traced } from '../look/trace';
import { agreed } from '../preview/jar';
import { onTold, told } from '../preview/PreviewSender';
import { inFrame, shownPage, type Running } from '../preview/run';
import type { Ticket } from '../ticket';
import { Outline } from './Outline';

const EVERY = 1000;
const ASKED_EVERY = 4000;
const RULES_EVERY = 3000;

/** What happened on this page, as it happens. */
export function Look({ opening, ticket, running: own }: { opening: Opening; ticket: Ticket; running: Running | null }) {
    const running = own ?? inFrame();
    const heard = useHeard(ticket.token, running?.page?.id ?? null);
    const [, again] = useReducer((n: number) => n + 1, 0);
    const [outlined, setOutlined] = useState<Element[]>([]);
    const [copied, setCopied] = useState('');
    useEffect(() => {
        const timer = window.setInterval(again, EVERY);
        const stop = onTold(again);

        return () => {
            window.clearInterval(timer);
            stop();
        };
    }, []);
    if (!running) {
        return <p>The page in the frame is not there yet, or shows nothing of Pellix.</p>;
    }
    const { configuration, page } = running;
    const clock = clockOf(opening.time_zone);
    const names = new Map(opening.experiments.map((one) => [one.key, one]));
    const entries = configuration.experiments.map((experiment) => entryOf(experiment, configuration, page));
    const elsewhere = entries.filter(({ pages }) => !pages.holds);
    const changes = (key: string): ChangeState[] =>
        (page?.experiments.shown ?? []).filter((one) => one.experiment.key === key).flatMap((one) => changesOf(one, shownPage(own)));
    const verdicts = new Map((heard?.events ?? []).map((one) => [one.id, one]));
    const goals = (heard?.goals ?? []).filter(({ hits }) => hits.length > 0);
    const values = storedValues(configuration);
    const consent = agreed(ticket);
    const copy = async (): Promise<void> => {
        try {
            await navigator.clipboard.writeText(
                await asText({ opening, ticket, running, page: shownPage(own), heard, events: eventsOf(own) }),
            );
            setCopied('Copied.');
        } catch {
            setCopied('This page does not let anything be copied.');
        }
    };

    return (
        <>
            <p>
                Published file {configuration.number} · wiring version {configuration.wiring} · visitor{' '}
                <span className="mono">{page?.id ?? 'none'}</span> · consent{' '}
                {consent === null ? (configuration.ask ? 'not given yet' : 'not asked for') : consent.join(', ') || 'refused'}{' '}
                {opening.feed !== null && page !== null && (
                    <a className="plain" href={`${opening.feed}&visitor=${page.id}`} target="_blank" rel="noreferrer noopener">
                        Follow this browser in Pellix
                    </a>
                )}{' '}
                <button type="button" className="plain" onClick={() => void copy()}>
                    Copy all of it as text
                </button>{' '}
                <span role="status" className="soft">
                    {copied}
                </span>
            </p>
            <h2>Experiments</h2>
            {entries.length === 0 && <p className="soft">None runs on this site.</p>}
            {entries
                .filter(({ pages }) => pages.holds)
                .map((entry) => (
                    <ExperimentEntry
                        key={entry.key}
                        entry={entry}
                        named={names.get(entry.key)}
                        isChosen={entry.key in ticket.chosen}
                        changes={changes(entry.key)}
                        onPoint={setOutlined}
                    />
                ))}
            {elsewhere.length > 0 && (
                <details>
                    <summary>{elsewhere.length === 1 ? 'One other is' : `${elsewhere.length} others are`} for other pages</summary>
                    {elsewhere.map((entry) => (
                        <ExperimentEntry
                            key={entry.key}
                            entry={entry}
                            named={names.get(entry.key)}
                            isChosen={false}
                            changes={[]}
                            onPoint={setOutlined}
                        />
                    ))}
                </details>
            )}
            <h2>Events of this page</h2>
            <table>
                <thead>
                    <tr>
                        <th>Time</th>
                        <th>Event, and what the collector says</th>
                        <th>The tracking plan</th>
                        <th>Goals</th>
                    </tr>
                </thead>
                <tbody>
                    {[...eventsOf(own)].reverse().map((one) => (
                        <tr key={one.id}>
                            <td className="mono time">{clock(one.at)}</td>
                            <td>
                                {one.name}
                                <details>
                                    <summary className="soft">properties</summary>
                                    <span className="mono">{JSON.stringify(one.props)}</span>
                                </details>
                                {one.refused !== null ? (
                                    <>
                                        <Mark state="broken" /> refused: {one.refused}
                                    </>
                                ) : one.status === 0 ? (
                                    'on its way'
                                ) : one.status < 400 ? (
                                    <>
                                        <Mark state="holds" /> {one.status}, stored as a preview’s
                                    </>
                                ) : (
                                    <>
                                        <Mark state="broken" /> {one.status}
                                    </>
                                )}
                            </td>
                            <td>
                                {verdicts.get(one.id)?.verdict ?? ''}
                                {verdicts.get(one.id)?.mistakes.map(({ property, message }) => (
                                    <span key={property + message} className="soft">
                                        {' '}
                                        {property}: {message}
                                    </span>
                                ))}
                            </td>
                            <td>
                                {goals
                                    .filter(({ hits }) => hits.some((ids) => ids.includes(one.id)))
                                    .map(({ name }) => name)
                                    .join(', ')}
                            </td>
                        </tr>
                    ))}
                </tbody>
            </table>
            <h2>Goals that this visitor has reached</h2>
            <p>
                {heard === null
                    ? 'Nothing has been heard of them yet.'
                    : goals.map(({ name, hits }) => `${name} (${hits.length})`).join(', ') || 'None.'}
            </p>
            <h2>Tags</h2>
            {page?.trace.length ? (
                <table>
                    <thead>
                        <tr>
                            <th>Time</th>
                            <th>Tag</th>
                            <th>What became of it, and why</th>
                        </tr>
                    </thead>
                    <tbody>
                        {[...page.trace].reverse().map((one, i) => (
                            <tr key={page.trace.length - i}>
                                <td className="mono time">{clock(one.at)}</td>
                                <td>{one.tag}</td>
                                <td>
                                    <Mark state={one.fired ? 'holds' : 'unseen'} /> {one.fired ? 'fired' : 'not fired'}: {one.why}
                                </td>
                            </tr>
                        ))}
                    </tbody>
                </table>
            ) : (
                <p className="soft">No tag has been asked yet.</p>
            )}
            <h2>What Pellix keeps in this browser</h2>
            <p className="soft">
                Of its real visitor; a preview reads it once at most, and writes nothing there. Its own lies in this tab alone.
            </p>
            {values.length > 0 && (
                <table>
                    <thead>
                        <tr>
                            <th>Where</th>
                            <th>Name and value</th>
                            <th>What it is</th>
                            <th>Ends</th>
                        </tr>
                    </thead>
                    <tbody>
                        {values.map((one) => (
                            <tr key={one.where + one.name}>
                                <td>{one.where}</td>
                                <td className="mono">
                                    {one.name}={one.value.slice(0, 200)}
                                </td>
                                <td>{one.meaning}</td>
                                <td>{one.ends}</td>
                            </tr>
                        ))}
                    </tbody>
                </table>
            )}
            {outlined.map((element, i) => (
                <Outline key={i} of={element} />
            ))}
        </>
    );
}

interface EntryShown {
    entry: Entry;
    named?: Named;
    isChosen: boolean;
    changes: ChangeState[];
    onPoint: (elements: Element[]) => void;
}

function ExperimentEntry({ entry, named, isChosen, changes, onPoint }: EntryShown) {
    return (
        <section aria-label={named?.name ?? entry.key}>
            <h3>
                <Mark state={entry.variant === null ? 'unseen' : 'holds'} /> {named?.name ?? entry.key}{' '}
                <span className="mono soft">{entry.key}</span>
            </h3>
            <p>
                {entry.variant !== null && (
                    <>
                        Variant <b>{named?.variants.find(({ key }) => key === entry.variant)?.name ?? entry.variant}</b>
                        {isChosen ? ' (chosen here)' : ''}, bucket {entry.bucket ?? 'none'}, epoch {named?.epoch ?? 'unknown'}.{' '}
                    </>
                )}
                {entry.why}
            </p>
            <details>
                <summary className="soft">The rules, as they were asked here</summary>
                <p className="soft">Pages</p>
                <Rules of={entry.pages} />
                {entry.audience && (
                    <>
                        <p className="soft">Audience</p>
                        <Rules of={entry.audience} />
                    </>
                )}
            </details>
            {changes.length > 0 && <Changes all={changes} onPoint={onPoint} />}
        </section>
    );
}

function Changes({ all, onPoint }: { all: ChangeState[]; onPoint: (elements: Element[]) => void }) {
    const overruled = useOverruled(all);

    return (
        <ul>
            {all.map((one) => (
                <li
                    key={one.number}
                    tabIndex={0}
                    onMouseEnter={() => onPoint(one.elements)}
                    onFocus={() => onPoint(one.elements)}
                    onMouseLeave={() => onPoint([])}
                    onBlur={() => onPoint([])}
                >
                    <Mark
                        state={
                            overruled[one.number]
                                ? 'broken'
                                : one.state === 'applied'
                                  ? 'holds'
                                  : one.state === 'missed'
                                    ? 'doubt'
                                    : 'broken'
                        }
                    />{' '}
                    {overruled[one.number] ? `${one.state}, but not in effect` : one.state}: {changeWords(one.change)}{' '}
                    <span className="soft">{one.why}</span>
                    {overruled[one.number]?.map((words) => (
                        <p key={words} className="broken">
                            {words}
                        </p>
                    ))}
                </li>
            ))}
        </ul>
    );
}

function Rules({ of: { words, holds, found, parts } }: { of: Traced }) {
    return (
        <ul>
            <li>
                <Mark state={holds ? 'holds' : 'broken'} /> <span className="mono">{words}</span>{' '}
                {parts.length === 0 && <span className="soft">{found === null ? 'is not known here' : `is ${found}`}</span>}
                {parts.map((part, i) => (
                    <Rules key={i} of={part} />
                ))}
            </li>
        </ul>
    );
}

const SIGNS = { holds: ['●', 'yes'], doubt: ['▲', 'doubtful'], broken: ['■', 'no'], unseen: ['○', 'not seen'] } as const;

function Mark({ state }: { state: keyof typeof SIGNS }) {
    const [sign, words] = SIGNS[state];

    return (
        <span className={`mark ${state}`} role="img" aria-label={words}>
            {sign}
        </span>
    );
}

/** Times of day as the site has them. */
function clockOf(timeZone: string): (at: string) => string {
    const format = new Intl.DateTimeFormat('en-GB', {
        timeZone,
        hour: '2-digit',
        minute: '2-digit',
        second: '2-digit',
        fractionalSecondDigits: 3,
    });

    return (at) => format.format(new Date(at));
}

function eventsOf(own: Running | null): typeof told {
    return own ? told : (window.pellixFramed?.told ?? []);
}

/** What of the changes that were made is not in effect, and why; looked at again, since a page changes. */
function useOverruled(all: ChangeState[]): Record<number, string[]> {
    const [found, setFound] = useState<Record<number, string[]>>({});
    const latest = useRef(all);
    useEffect(() => {
        latest.current = all;
    });
    useEffect(() => {
        let isGone = false;
        const look = async (): Promise<void> => {
            const words: Record<number, string[]> = {};
            const walks: Parameters<typeof losingWords>[1] = new Map();
            for (const one of latest.current) {
                const losing = await losingWords(one, walks);
                if (losing.length > 0) {
                    words[one.number] = losing;
                }
            }
            if (!isGone) {
                setFound((before) => (JSON.stringify(before) === JSON.stringify(words) ? before : words));
            }
        };
        void look();
        const timer = window.setInterval(() => void look(), RULES_EVERY);

        return () => {
            isGone = true;
            window.clearInterval(timer);
        };
    }, []);

    return found;
}

/** What has arrived of the visitor, asked for now and then. */
function useHeard(token: string, visitor: string | null): Heard | null {
    const [heard, setHeard] = useState<Heard | null>(null);
    useEffect(() => {
        if (visitor === null) {
            return;
        }
        let isGone = false;
        const look = (): void => {
            if (document.visibilityState === 'visible') {
                // What cannot be asked now is asked again soon.
                ask<Heard>('heard', { token, visitor }).then(
                    (answer) => isGone || setHeard(answer),
                    () => undefined,
                );
            }
        };
        look();
        const timer = window.setInterval(look, ASKED_EVERY);

        return () => {
            isGone = true;
            window.clearInterval(timer);
        };
    }, [token, visitor]);

    return heard;
}
