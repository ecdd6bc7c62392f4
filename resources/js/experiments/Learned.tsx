import { Link, useSearchParams } from 'react-router';
import { useDecisions } from '../api/readout';
import { address, useSiteKey } from '../app/address';
import { TextField } from '../parts/Field';
import { Moment } from '../parts/Moment';
import { useDebounced } from '../parts/useDebounced';
import { useTitle } from '../parts/useTitle';
import { Waiting } from '../parts/Waiting';

/** What was decided on a site, and learned: to be searched a year later. */
export function Learned() {
    useTitle('What we have learned');
    const site = useSiteKey();
    const [params, setParams] = useSearchParams();
    const search = params.get('search') ?? '';
    const decisions = useDecisions(site, useDebounced(search, 300));

    return (
        <div className="mx-auto max-w-5xl px-5 py-4">
            <h1 className="text-xl font-semibold">What we have learned</h1>
            <p className="text-soft">Every decision, with what was known at the time.</p>
            <div className="my-3 max-w-md">
                <TextField
                    label="Search"
                    type="search"
                    value={search}
                    maxLength={200}
                    note="Words of the name, the hypothesis, the reason, or what was learned."
                    onChange={(event) => setParams(event.target.value ? { search: event.target.value } : {}, { replace: true })}
                />
            </div>
            <Waiting query={decisions}>
                {(all) =>
                    all.length === 0 ? (
                        <p className="border-y border-line bg-leaf p-8 text-soft">
                            {search
                                ? 'No decision has these words.'
                                : 'Nothing has been decided yet. Each experiment is decided at its readout.'}
                        </p>
                    ) : (
                        <ol className="border-b border-line">
                            {all.map((one) => (
                                <li key={one.id} className="border-t border-line bg-leaf px-4 py-3" data-learned={one.experiment}>
                                    <h2 className="font-semibold">
                                        <Link
                                            to={address.experimentView(site, one.experiment, 'readout')}
                                            className="text-accent underline underline-offset-4"
                                        >
                                            {one.name}
                                        </Link>
                                        : “{one.choice}” is kept
                                    </h2>
                                    {one.hypothesis && <p className="text-sm text-soft">{one.hypothesis}</p>}
                                    <p>{one.because}</p>
                                    {one.learned && <p>Learned: {one.learned}</p>}
                                    <p className="text-sm text-soft">
                                        By {one.by} <Moment at={one.at} />. Known then: {one.known ?? 'nothing'}
                                        {one.reason && ` The cover had been lifted: “${one.reason}”`}
                                    </p>
                                </li>
                            ))}
                        </ol>
                    )
                }
            </Waiting>
        </div>
    );
}
