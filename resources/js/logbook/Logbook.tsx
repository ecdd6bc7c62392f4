import { useSearchParams } from 'react-router';
import type { Schemas } from '../api/client';
import { useLogbook, type LogbookFilters } from '../api/life';
import { address, useSiteKey } from '../app/address';
import { Choice } from '../parts/Choice';
import { TextField } from '../parts/Field';
import { LOGBOOK_THINGS } from '../parts/vocabulary';
import { Entries } from './Entries';
import { LogbookTabs } from './LogbookTabs';

/** Everything that was changed on a site: who, when, what, and from where. */
export function Logbook() {
    const site = useSiteKey();
    const [params, setParams] = useSearchParams();
    const read = (name: string): string => params.get(name) ?? '';
    const filters: LogbookFilters = {
        ...(read('thing') ? { thing: read('thing') as Schemas['LogbookThing'] } : {}),
        ...(read('key') ? { key: read('key') } : {}),
        ...(read('person') ? { person: read('person') } : {}),
        ...(read('from') ? { from: read('from') } : {}),
        ...(read('to') ? { to: read('to') } : {}),
    };
    const people = useLogbook(site, filters).data?.pages[0]?.people ?? [];
    const set = (name: string, value: string): void => {
        const next = new URLSearchParams(params);
        if (value) {
            next.set(name, value);
        } else {
            next.delete(name);
        }
        setParams(next, { replace: true });
    };

    return (
        <div className="mx-auto max-w-7xl px-5 py-4">
            <h1 className="mb-1 text-xl font-semibold">Logbook</h1>
            <LogbookTabs />
            <div className="mb-3 flex flex-wrap items-end gap-3">
                <div className="w-52">
                    <Choice
                        label="Thing"
                        value={read('thing')}
                        options={[
                            { value: '', label: 'everything' },
                            ...Object.entries(LOGBOOK_THINGS).map(([value, { label }]) => ({ value, label })),
                        ]}
                        onChange={(thing) => set('thing', thing)}
                    />
                </div>
                <div className="w-48">
                    <Choice
                        label="Person"
                        value={read('person')}
                        options={[{ value: '', label: 'everybody' }, ...people.map((one) => ({ value: one, label: one }))]}
                        onChange={(person) => set('person', person)}
                    />
                </div>
                <TextField label="From" type="date" value={read('from')} onChange={(event) => set('from', event.target.value)} />
                <TextField label="To" type="date" value={read('to')} onChange={(event) => set('to', event.target.value)} />
                <a
                    href={address.logbookFile(site, params.toString())}
                    className="ml-auto pb-1.5 text-accent underline underline-offset-4"
                    download
                >
                    CSV
                </a>
            </div>
            {read('key') && (
                <p className="mb-2 text-sm">
                    Only <span className="font-mono">{read('key')}</span>.{' '}
                    <button type="button" className="text-accent underline" onClick={() => set('key', '')}>
                        Show all
                    </button>
                </p>
            )}
            <Entries filters={filters} />
        </div>
    );
}
