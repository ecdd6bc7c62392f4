import type { FormEvent } from 'react';
import { Navigate, useNavigate } from 'react-router';
import { useSession } from '../api/queries';
import { useMakeSite, type SiteDraft } from '../api/sites';
import { address } from '../app/address';
import { TextField } from '../parts/Field';
import { FormFoot } from '../parts/FormFoot';
import { useDraft } from '../parts/useDraft';
import { useTitle } from '../parts/useTitle';
import { HostList } from './HostList';
import { ZoneAndCurrency } from './ZoneAndCurrency';
import { ownZone } from './zones';

/** Asks for what a site needs from the first day on; everything else is as usual until somebody changes it. */
export function NewSite() {
    const session = useSession();
    useTitle('A new site');
    if (session.isPending) {
        return <p className="p-6 text-soft">Reading…</p>;
    }
    if (!session.data) {
        return <Navigate to="/sign-in?to=%2Fnew-site" replace />;
    }

    return (
        <main className="mx-auto max-w-2xl px-5 py-8">
            <h1 className="mb-4 flex items-center gap-3 text-2xl font-semibold">
                <img src="/favicon.svg" alt="" width="28" height="28" /> A new site
            </h1>
            {session.data.makes_sites ? <Form /> : <p>Whoever runs this copy of Pellix says who makes sites. Ask somebody who does.</p>}
        </main>
    );
}

function Form() {
    const save = useMakeSite();
    const navigate = useNavigate();
    const form = useDraft<SiteDraft>(() => ({ name: '', hosts: [''], time_zone: ownZone(), currency: 'EUR' }), save);
    const { draft, errors, set } = form;
    const submit = (event: FormEvent): void => {
        event.preventDefault();
        const hosts = draft.hosts.filter((host) => host.trim() !== '');
        save.mutate(
            { ...draft, hosts },
            {
                onSuccess: ({ key }) => {
                    form.kept();
                    void navigate(address.firstSteps(key));
                },
            },
        );
    };

    return (
        <form onSubmit={submit} noValidate className="space-y-5 border border-line bg-leaf p-5">
            <TextField
                label="Name"
                placeholder="As the people who look after it call it"
                autoFocus
                value={draft.name}
                error={errors.name}
                onChange={(event) => set({ name: event.target.value })}
            />
            <HostList hosts={draft.hosts} errors={errors} onChange={(hosts) => set({ hosts })} />
            <ZoneAndCurrency draft={draft} errors={errors} set={set} />
            <FormFoot form={form} submit="Make the site" inFlow onLeaf />
        </form>
    );
}
