import { useState, type FormEvent } from 'react';
import type { Opening } from '../answers';
import { agree, agreed, freshJar } from '../preview/jar';
import type { Ticket, Who } from '../ticket';

const WIDTHS = [
    [null, 'This window'],
    [1280, '1280: desktop'],
    [820, '820: tablet'],
    [390, '390: phone'],
] as const;

const PEOPLE: [Who, string][] = [
    ['new', 'Somebody new'],
    ['returning', 'Somebody who has been here'],
    ['own', 'This browser as it is'],
];

const AGENTS = [
    [null, 'What it is'],
    [
        'Mozilla/5.0 (Linux; Android 14; Pixel 8) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/141.0.0.0 Mobile Safari/537.36',
        'A phone (Chrome)',
    ],
    [
        'Mozilla/5.0 (iPhone; CPU iPhone OS 18_0 like Mac OS X) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/18.0 Mobile/15E148 Safari/604.1',
        'A phone (Safari)',
    ],
    [
        'Mozilla/5.0 (iPad; CPU OS 18_0 like Mac OS X) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/18.0 Mobile/15E148 Safari/604.1',
        'A tablet (Safari)',
    ],
    ['Mozilla/5.0 (Windows NT 10.0; Win64; x64; rv:143.0) Gecko/20100101 Firefox/143.0', 'A desktop (Firefox)'],
] as const;

const CATEGORIES = ['statistics', 'marketing'];

/** Which variant, for whom, on what: all of it in this tab alone. */
export function Try({
    opening,
    ticket,
    change,
}: {
    opening: Opening;
    ticket: Ticket;
    change: (to: Partial<Ticket>, again?: boolean) => void;
}) {
    const given = agreed(ticket);
    const asks = opening.configuration.ask;
    const withJar = (act: (copy: Ticket) => void): void => {
        const copy = structuredClone(ticket);
        act(copy);
        change({ jar: copy.jar }, true);
    };

    return (
        <div className="fields">
            {opening.experiments.map(({ key, name, state, variants }) => (
                <fieldset key={key}>
                    <legend>
                        {name}
                        {state === 'draft' && ' (a draft)'}
                        {state === 'scheduled' && ' (scheduled)'}
                    </legend>
                    {opening.variant === null && opening.experiment !== key && (
                        <Choice
                            name={key}
                            label="As it is assigned"
                            isOn={!(key in ticket.chosen)}
                            onChoose={() => change({ chosen: without(ticket.chosen, key), jar: null }, true)}
                        />
                    )}
                    {variants
                        .filter((one) => opening.experiment !== key || opening.variant === null || one.key === opening.variant)
                        .map((one) => (
                            <Choice
                                key={one.key}
                                name={key}
                                label={one.control ? `${one.name} (control)` : one.name}
                                isOn={ticket.chosen[key] === one.key}
                                onChoose={() => change({ chosen: { ...ticket.chosen, [key]: one.key } }, true)}
                            />
                        ))}
                </fieldset>
            ))}
            <fieldset>
                <legend>Screen</legend>
                {WIDTHS.map(([width, label]) => (
                    <Choice key={label} name="width" label={label} isOn={ticket.width === width} onChoose={() => change({ width }, true)} />
                ))}
                <Other width={ticket.width} onWidth={(width) => change({ width }, true)} />
            </fieldset>
            <fieldset>
                <legend>Visitor</legend>
                {PEOPLE.map(([who, label]) => (
                    <Choice
                        key={who}
                        name="who"
                        label={label}
                        isOn={ticket.who === who}
                        onChoose={() => change({ who, jar: freshJar(who) }, true)}
                    />
                ))}
                <button type="button" className="plain" onClick={() => change({ jar: freshJar(ticket.who) }, true)}>
                    Once more from the beginning
                </button>
            </fieldset>
            <fieldset>
                <legend>Consent{asks ? '' : ' (this site does not ask)'}</legend>
                <Choice name="consent" label="Not asked yet" isOn={given === null} onChoose={() => withJar((copy) => agree(copy, null))} />
                <Choice name="consent" label="Refused" isOn={given?.length === 0} onChoose={() => withJar((copy) => agree(copy, []))} />
                {CATEGORIES.map((category, i) => (
                    <Choice
                        key={category}
                        name="consent"
                        label={`Agreed to ${CATEGORIES.slice(0, i + 1).join(' and ')}`}
                        isOn={given?.length === i + 1}
                        onChoose={() => withJar((copy) => agree(copy, CATEGORIES.slice(0, i + 1)))}
                    />
                ))}
            </fieldset>
            <div>
                <label className="label" htmlFor="agent">
                    Taken for
                </label>
                <select id="agent" value={ticket.agent ?? ''} onChange={(event) => change({ agent: event.target.value || null }, true)}>
                    {AGENTS.map(([agent, label]) => (
                        <option key={label} value={agent ?? ''}>
                            {label}
                        </option>
                    ))}
                </select>
                <p className="soft">by the rules of experiments and tags</p>
            </div>
            <Time at={ticket.at} zone={opening.time_zone} onTime={(at) => change({ at }, true)} />
        </div>
    );
}

const LEAST = 240;
const MOST = 3840;

/** Any other width, in pixels. */
function Other({ width, onWidth }: { width: number | null; onWidth: (width: number) => void }) {
    const isOther = !WIDTHS.some(([one]) => one === width);
    const [typed, setTyped] = useState(isOther ? String(width) : '');
    const [wrong, setWrong] = useState(false);
    const keep = (event: FormEvent): void => {
        event.preventDefault();
        const pixels = Number(typed);
        setWrong(!Number.isInteger(pixels) || pixels < LEAST || pixels > MOST);
        if (Number.isInteger(pixels) && pixels >= LEAST && pixels <= MOST && pixels !== width) {
            onWidth(pixels);
        }
    };

    return (
        <form onSubmit={keep} noValidate className="pair">
            <label htmlFor="width">Other:</label>
            <input id="width" className="short" inputMode="numeric" value={typed} onChange={(event) => setTyped(event.target.value)} />
            <button type="submit" className="plain">
                Show
            </button>
            {wrong && (
                <span role="alert" className="broken">
                    {LEAST} to {MOST} pixels
                </span>
            )}
        </form>
    );
}

/** The time that the page is shown at. */
function Time({ at, zone, onTime }: { at: string | null; zone: string; onTime: (at: string | null) => void }) {
    const [typed, setTyped] = useState(at ?? '');
    const keep = (event: FormEvent): void => {
        event.preventDefault();
        onTime(typed || null);
    };

    return (
        <form onSubmit={keep} noValidate>
            <label className="label" htmlFor="at">
                At
            </label>
            <span className="pair">
                <input id="at" type="datetime-local" value={typed} onChange={(event) => setTyped(event.target.value)} />
                <button type="submit" className="plain">
                    Show
                </button>
                {at !== null && (
                    <button type="button" className="plain" onClick={() => onTime(null)}>
                        Now
                    </button>
                )}
            </span>
            <p className="soft">by the clock of the site ({zone}): what is scheduled has begun or ended by then</p>
        </form>
    );
}

function without(all: Record<string, string>, key: string): Record<string, string> {
    return Object.fromEntries(Object.entries(all).filter(([one]) => one !== key));
}

function Choice({ name, label, isOn, onChoose }: { name: string; label: string; isOn: boolean; onChoose: () => void }) {
    return (
        <label className="choice">
            <input type="radio" name={name} checked={isOn} onChange={onChoose} />
            {label}
        </label>
    );
}
