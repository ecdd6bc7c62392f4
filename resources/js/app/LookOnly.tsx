import { Fieldset } from '@headlessui/react';
import type { ComponentType } from 'react';
import { usePeople, useRight } from '../api/queries';
import { listed } from '../parts/words';
import { useSiteKey } from './address';

const MOST_NAMED = 3;

/** Says to whoever only looks on who may work on the site. */
export function LookOnly() {
    const may = (usePeople(useSiteKey()).data ?? []).filter(({ right, closed }) => right !== 'look' && !closed).map(({ name }) => name);

    return (
        <p role="note" className="border-l-3 border-line pl-3 text-soft">
            You may look at this, and change nothing.{' '}
            {may.length > 0 &&
                `${may.length > MOST_NAMED ? `${may.slice(0, MOST_NAMED).join(', ')} and others` : listed(may, 'and')} may work on this site.`}
        </p>
    );
}

/** A view in which something is made or changed: to whoever only looks on it shows all of it, and lets nothing be changed. */
export function forWorkers(View: ComponentType): ComponentType {
    return function ForWorkers() {
        const mayWork = useRight(useSiteKey()) !== 'look';

        return (
            <>
                {!mayWork && (
                    <div className="mx-auto max-w-7xl px-5 pt-4">
                        <LookOnly />
                    </div>
                )}
                <Fieldset disabled={!mayWork} className="contents">
                    <View />
                </Fieldset>
            </>
        );
    };
}
