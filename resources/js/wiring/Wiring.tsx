import { useState, type ReactNode } from 'react';
import type { Site } from '../api/client';
import { useSite } from '../api/queries';
import { useSiteKey } from '../app/address';
import { Choice } from '../parts/Choice';
import { Waiting } from '../parts/Waiting';
import { Copyable } from './Copyable';
import { WiringTabs } from './WiringTabs';

/** The code of the site, and how it goes onto a page. */
export function Wiring() {
    const site = useSite(useSiteKey());

    return (
        <div className="mx-auto max-w-7xl px-5 py-4">
            <WiringTabs />
            <Waiting query={site}>
                {(known) => (
                    <>
                        <Snippet site={known} />
                        <Guard site={known} />
                    </>
                )}
            </Waiting>
        </div>
    );
}

function Snippet({ site }: { site: Site }) {
    return (
        <section className="max-w-5xl">
            <h1 className="text-xl font-semibold">The snippet</h1>
            <p className="mt-1 max-w-3xl">
                One piece of code for every page of {site.hosts.join(', ')}. Put it into the <Code>&lt;head&gt;</Code>, before other
                scripts, so that a change is made before it can be seen.
            </p>
            <Copyable text={site.snippet} name="snippet" />
            <Lines
                lines={[
                    [`data-pellix="${site.key}"`, 'The site key. It tells whose pages these are; it is no secret.'],
                    [
                        'window.pellix = …',
                        <>
                            Keeps calls such as <Code>pellix('event', 'brochure_opened')</Code> until the runtime has come.
                        </>,
                    ],
                    ['script.async = true', 'The page never waits for Pellix. If Pellix cannot be reached, nothing happens.'],
                    ['script.src = …', 'One file: the runtime, and the experiments that are running now.'],
                    ['script.onerror = …', 'Shows the page at once if that file cannot be loaded and a flicker guard hides the page.'],
                ]}
            />
        </section>
    );
}

function Guard({ site }: { site: Site }) {
    const [milliseconds, setMilliseconds] = useState(String(site.guards[0].milliseconds));
    const guard = site.guards.find((one) => String(one.milliseconds) === milliseconds) ?? site.guards[0];
    const options = [...site.guards]
        .sort((a, b) => a.milliseconds - b.milliseconds)
        .map((one) => ({ value: String(one.milliseconds), label: `at most ${one.milliseconds / 1000} s` }));

    return (
        <section className="mt-8 max-w-5xl">
            <div className="flex flex-wrap items-center gap-4">
                <h2 className="text-xl font-semibold">The flicker guard</h2>
                <div className="w-40">
                    <Choice label="How long it hides the page" value={milliseconds} options={options} onChange={setMilliseconds} />
                </div>
            </div>
            <p className="mt-1 max-w-3xl">
                Optional, right before the snippet, on pages whose experiments change something that is seen at once. It hides the body
                until the changes are made, until Pellix turns out to be out of reach, or until its time is over: whichever comes first.
            </p>
            <Copyable text={guard.text} name="guard" />
        </section>
    );
}

function Code({ children }: { children: ReactNode }) {
    return <code className="font-mono text-sm">{children}</code>;
}

function Lines({ lines }: { lines: [string, ReactNode][] }) {
    return (
        <dl className="mt-4 grid gap-x-6 gap-y-1.5 border-b border-line pb-4 sm:grid-cols-[19rem_1fr]">
            {lines.map(([code, what]) => (
                <div key={code} className="contents">
                    <dt className="font-mono text-sm">{code}</dt>
                    <dd className="max-sm:mb-2">{what}</dd>
                </div>
            ))}
        </dl>
    );
}
