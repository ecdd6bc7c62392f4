import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { useDifferences, useWiring } from '../api/wiring';
import { address, useSiteKey } from '../app/address';
import { Choice } from '../parts/Choice';
import { Waiting } from '../parts/Waiting';
import { FIELD_WORDS, triggerInWords, type Trigger } from './tagWords';
import { WiringTabs } from './WiringTabs';

/** What differs between two published versions of the tags. */
export function Version() {
    const site = useSiteKey();
    const navigate = useNavigate();
    const number = Number(useParams().version);
    const [params] = useSearchParams();
    const against = Number(params.get('against') ?? 0);
    const wiring = useWiring(site);
    const differences = useDifferences(site, number, against);
    const others = [0, ...(wiring.data?.versions ?? []).map((version) => version.number)].filter((one) => one !== number);

    return (
        <div className="mx-auto max-w-7xl px-5 py-4">
            <WiringTabs />
            <div className="mb-3 flex flex-wrap items-center gap-4">
                <h1 className="text-xl font-semibold">Version {number} of the tags</h1>
                <div className="w-56">
                    <Choice
                        label="Compared with"
                        value={String(against)}
                        options={others.map((one) => ({
                            value: String(one),
                            label: one === 0 ? 'compared with nothing' : `compared with version ${one}`,
                        }))}
                        onChange={(other) => navigate(address.version(site, number, Number(other)), { replace: true })}
                    />
                </div>
                <Link to={address.tags(site)} className="ml-auto text-accent underline underline-offset-4">
                    All versions
                </Link>
            </div>
            <Waiting query={differences}>
                {(known) =>
                    known.length === 0 ? (
                        <p className="border-y border-line bg-leaf p-8 text-center">The two have the same tags.</p>
                    ) : (
                        known.map((one) => (
                            <section key={one.key} className="mb-4 border border-line bg-leaf" aria-label={one.key}>
                                <h2 className="border-b border-line px-4 py-1.5">
                                    <span className="font-mono text-sm font-semibold">{one.key}</span> {one.change}
                                </h2>
                                <table className="w-full table-fixed">
                                    <thead className="text-left text-sm text-soft">
                                        <tr>
                                            <th className="w-28 px-4 font-normal" />
                                            <th className="px-4 font-normal">{against === 0 ? 'Before' : `Version ${against}`}</th>
                                            <th className="px-4 font-normal">Version {number}</th>
                                        </tr>
                                    </thead>
                                    <tbody>
                                        {one.fields.map((field) => (
                                            <tr key={field.field} className="border-t border-line align-top">
                                                <th className="px-4 py-1 text-left font-normal">
                                                    {FIELD_WORDS[field.field] ?? field.field}
                                                </th>
                                                <Value value={field.before} />
                                                <Value value={field.after} />
                                            </tr>
                                        ))}
                                    </tbody>
                                </table>
                            </section>
                        ))
                    )
                }
            </Waiting>
        </div>
    );
}

function Value({ value }: { value: unknown }) {
    const triggers = Array.isArray(value) ? (value as Trigger[]).map(triggerInWords).join('\n') : null;
    const text =
        triggers ?? (value === null || value === undefined ? '–' : typeof value === 'string' ? value : JSON.stringify(value, null, 1));

    return (
        <td className="px-4 py-1">
            <pre className="font-mono text-sm break-words whitespace-pre-wrap">{text}</pre>
        </td>
    );
}
