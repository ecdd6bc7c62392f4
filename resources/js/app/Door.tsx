import type { ReactNode } from 'react';
import { StateMark } from '../parts/StateMark';

/** What stands before the application: on the left what it is, on the right what is to be done to get in. */
export function Door({ children }: { children: ReactNode }) {
    return (
        <main className="grid min-h-screen place-items-center p-4">
            <div className="grid w-full max-w-3xl border border-line bg-leaf md:grid-cols-2">
                <section className="border-line p-8 max-md:border-b md:border-r">
                    <h1 className="flex items-center gap-3 text-2xl font-semibold">
                        <img src="/favicon.svg" alt="" width="28" height="28" /> Pellix
                    </h1>
                    <p className="mt-4">
                        What was declared, beside what was observed. Seven links from the page to the data, and nothing called working
                        without evidence.
                    </p>
                    <ul className="mt-6 space-y-1.5 text-sm text-soft">
                        <li className="flex items-center gap-2">
                            <StateMark state="holds" /> holds: there is evidence, and it is fresh
                        </li>
                        <li className="flex items-center gap-2">
                            <StateMark state="doubt" /> doubt: the evidence is thin or odd
                        </li>
                        <li className="flex items-center gap-2">
                            <StateMark state="broken" /> broken: the evidence speaks against it
                        </li>
                        <li className="flex items-center gap-2">
                            <StateMark state="unseen" /> unseen: nothing was observed yet
                        </li>
                        <li className="flex items-center gap-2">
                            <StateMark state="stale" /> stale: the evidence has grown old
                        </li>
                    </ul>
                </section>
                <div className="p-8">{children}</div>
            </div>
        </main>
    );
}
