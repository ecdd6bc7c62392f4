import { useState } from 'react';
import { useTrace, type Visitor } from '../../api/experiments';
import { useSite } from '../../api/queries';
import { useSiteKey } from '../../app/address';
import { readFeed } from '../../api/measures';
import { useQuery } from '@tanstack/react-query';
import { Button } from '../../parts/Button';
import { Choice } from '../../parts/Choice';
import { TextArea, TextField } from '../../parts/Field';
import { Fact } from '../../../../docs/vocabulary.json';
import type { RuleJson } from '../../parts/ruleRows';

interface Props {
    pages: RuleJson;
    audience: RuleJson | null;
    /** Known pages that match, one of which the tester begins with. */
    example: string;
}

const NOT_SAID = '';
const said = (values: unknown[]): { value: string; label: string }[] => [
    { value: NOT_SAID, label: 'not said' },
    ...values.map((value) => ({ value: String(value), label: String(value) })),
];
const DEVICES = said(Fact['x-words'].device.values);
const BROWSERS = said(Fact['x-words'].browser.values);

/** Tries the rules on visitors whom somebody describes, and on recorded visits: who enters, who does not, and why. */
export function Tester({ pages, audience, example }: Props) {
    const site = useSiteKey();
    const zone = useSite(site).data?.time_zone ?? 'UTC';
    const clock = new Intl.DateTimeFormat('en-GB', { timeZone: zone, day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' });
    const trace = useTrace(site);
    const [typed, setTyped] = useState<string | null>(null);
    const [who, setWho] = useState({
        device: NOT_SAID,
        browser: NOT_SAID,
        language: '',
        returning: NOT_SAID,
        referrer: NOT_SAID,
        cookies: '',
        data: '',
    });
    const [recorded, setRecorded] = useState('');
    const addresses = typed ?? example;
    const views = useQuery({
        queryKey: ['newest-views', site],
        queryFn: ({ signal }) => readFeed(site, { event: 'page_view' }, 0, 0, signal),
        staleTime: 30_000,
    });
    const newest = (views.data?.events ?? []).slice(0, 15);
    const set = (change: Partial<typeof who>): void => setWho({ ...who, ...change });
    const ask = (visitors: Visitor[]): void => trace.mutate({ pages, audience, visitors });
    const tryDescribed = (): void =>
        ask(
            addresses
                .split(/\s+/)
                .filter(Boolean)
                .slice(0, 50)
                .map((url) => described(url, who)),
        );

    return (
        <details className="mt-3 border-t border-line pt-2">
            <summary className="cursor-pointer font-semibold">Try it on a visitor</summary>
            <div className="mt-2 space-y-2">
                <TextArea
                    label="Addresses, one a line"
                    className="font-mono text-sm"
                    value={addresses}
                    onChange={(event) => setTyped(event.target.value)}
                />
                <div className="grid grid-cols-3 gap-2">
                    <Labelled words="Device">
                        <Choice label="Device" value={who.device} options={DEVICES} onChange={(device) => set({ device })} />
                    </Labelled>
                    <Labelled words="Browser">
                        <Choice label="Browser" value={who.browser} options={BROWSERS} onChange={(browser) => set({ browser })} />
                    </Labelled>
                    <Labelled words="Been here before">
                        <Choice
                            label="Been here before"
                            value={who.returning}
                            options={said(['yes', 'no'])}
                            onChange={(returning) => set({ returning })}
                        />
                    </Labelled>
                    <TextField
                        label="Language"
                        placeholder="not said"
                        value={who.language}
                        onChange={(e) => set({ language: e.target.value })}
                    />
                    <TextField
                        label="Came from"
                        placeholder="not said"
                        value={who.referrer}
                        note="“-” for nowhere"
                        onChange={(e) => set({ referrer: e.target.value })}
                    />
                    <TextField
                        label="Cookies"
                        className="font-mono text-sm"
                        placeholder="name=value; …"
                        value={who.cookies}
                        onChange={(e) => set({ cookies: e.target.value })}
                    />
                </div>
                <TextField
                    label="Data layer"
                    className="font-mono text-sm"
                    placeholder="basket.total=12; member=true"
                    value={who.data}
                    onChange={(e) => set({ data: e.target.value })}
                />
                <div className="flex flex-wrap items-center gap-2">
                    <Button onClick={tryDescribed} disabled={addresses.trim() === ''}>
                        Try
                    </Button>
                    {newest.length > 0 && (
                        <div className="min-w-56 flex-1">
                            <Choice
                                label="Recorded visit"
                                value={recorded}
                                options={[
                                    { value: '', label: 'or a recorded visit…' },
                                    ...newest.map(({ key, time, url, visitor }) => ({
                                        value: `${key} ${visitor}`,
                                        label: `${clock.format(new Date(time))} ${url.slice(0, 70)}`,
                                    })),
                                ]}
                                onChange={(chosen) => {
                                    setRecorded(chosen);
                                    const [event, visitor] = chosen.split(' ');
                                    if (event) {
                                        ask([{ event, visitor }]);
                                    }
                                }}
                            />
                        </div>
                    )}
                </div>
                {trace.error && (
                    <p role="alert" className="text-sm text-broken">
                        {trace.error.message}
                    </p>
                )}
                <ul aria-label="Who enters" aria-live="polite" className="text-sm">
                    {trace.data?.map((one, i) => (
                        <li key={i} className="my-1 border-l-3 border-line pl-2" data-enters={String(one.enters)}>
                            {one.url && <span className="font-mono break-all">{one.url}</span>} <InCode words={one.words} />
                        </li>
                    ))}
                </ul>
            </div>
        </details>
    );
}

/** Words in which values stand between backquotes. */
function InCode({ words }: { words: string }) {
    return words.split('`').map((part, i) =>
        i % 2 === 1 ? (
            <code key={i} className="font-mono">
                {part}
            </code>
        ) : (
            <span key={i} className={i === 0 ? 'font-semibold' : ''}>
                {part}
            </span>
        ),
    );
}

function Labelled({ words, children }: { words: string; children: React.ReactNode }) {
    return (
        <div>
            <span className="mb-0.5 block font-semibold" aria-hidden="true">
                {words}
            </span>
            {children}
        </div>
    );
}

interface Who {
    device: string;
    browser: string;
    language: string;
    returning: string;
    referrer: string;
    cookies: string;
    data: string;
}

/** Only what was said: the rest is unknown. */
function described(url: string, who: Who): Visitor {
    return {
        url,
        ...(who.device && { device: who.device as Visitor['device'] }),
        ...(who.browser && { browser: who.browser }),
        ...(who.language.trim() && { language: who.language.trim() }),
        ...(who.returning && { returning: who.returning === 'yes' }),
        ...(who.referrer.trim() && { referrer: who.referrer.trim() === '-' ? '' : who.referrer.trim() }),
        ...(who.cookies.trim() && { cookies: pairs(who.cookies) }),
        ...(who.data.trim() && { data: Object.fromEntries(Object.entries(pairs(who.data)).map(([path, value]) => [path, typed(value)])) }),
    };
}

function pairs(text: string): Record<string, string> {
    return Object.fromEntries(
        text
            .split(';')
            .filter((pair) => pair.trim())
            .map((pair) => [pair.split('=')[0].trim(), pair.split('=').slice(1).join('=').trim()]),
    );
}

/** In the data layer numbers, and true and false, are what they are. */
function typed(text: string): string | number | boolean {
    return text === 'true' || text === 'false' ? text === 'true' : text !== '' && !Number.isNaN(Number(text)) ? Number(text) : text;
}
