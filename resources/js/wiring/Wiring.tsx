import { useState } from 'react';
import { useSearchParams } from 'react-router';
import type { Site } from '../api/client';
import { useSite } from '../api/queries';
import { useSiteKey } from '../app/address';
import { Choice } from '../parts/Choice';
import { Tick } from '../parts/RuleBuilder';
import { Waiting } from '../parts/Waiting';
import { Copyable } from './Copyable';
import { WiringTabs } from './WiringTabs';

const GUARD_LINES = [
    { code: 'style.textContent = …', what: 'What is hidden. It takes up its room all the same, so that nothing jumps when it is shown.' },
    {
        code: 'window.pellixShow = …',
        what: 'Shows it again: the runtime calls this when its changes are made, the snippet when the runtime cannot be loaded.',
    },
    { code: 'setTimeout(…)', what: 'Shows it in any case when the time is over, whatever happened to everything else.' },
];

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
    const [params, setParams] = useSearchParams();
    const form = site.forms.find((one) => one.key === params.get('for')) ?? site.forms[0];

    return (
        <section className="max-w-5xl">
            <div className="flex flex-wrap items-center gap-4">
                <h1 className="text-xl font-semibold">The snippet</h1>
                <div className="w-80">
                    <Choice
                        label="Where it goes"
                        value={form.key}
                        options={site.forms.map(({ key, name }) => ({ value: key, label: name }))}
                        onChange={(key) => setParams(key === site.forms[0].key ? {} : { for: key }, { replace: true })}
                    />
                </div>
            </div>
            <p className="mt-1 max-w-3xl">{form.where}</p>
            <Copyable key={form.key} text={form.text} name={form.key === 'pixel' ? 'pixel' : 'snippet'} />
            <Lines lines={form.lines} />
        </section>
    );
}

function Guard({ site }: { site: Site }) {
    const [milliseconds, setMilliseconds] = useState(String(site.guards[0].milliseconds));
    const [narrow, setNarrow] = useState(false);
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
            {guard.narrow && (
                <div className="mt-2">
                    <Tick
                        label="Hide only what the running experiments change; copy it anew when other experiments start"
                        on={narrow}
                        onChange={() => setNarrow(!narrow)}
                    />
                </div>
            )}
            <p className="mt-1 max-w-3xl">
                Optional, right before the snippet, on pages whose experiments change something that is seen at once. It hides the page
                until the changes are made, until Pellix turns out to be out of reach, or until its time is over: whichever comes first.
            </p>
            <Copyable text={(narrow && guard.narrow) || guard.text} name="guard" />
            <Lines lines={GUARD_LINES} />
        </section>
    );
}

function Lines({ lines }: { lines: Site['forms'][number]['lines'] }) {
    return (
        <dl className="mt-4 grid gap-x-6 gap-y-1.5 border-b border-line pb-4 sm:grid-cols-[19rem_1fr]">
            {lines.map(({ code, what }) => (
                <div key={code} className="contents">
                    <dt className="font-mono text-sm break-words">{code}</dt>
                    <dd className="max-sm:mb-2">{what}</dd>
                </div>
            ))}
        </dl>
    );
}
