import type { FormEvent } from 'react';
import { useAccount, useChangePassword, useKeepName, type Account } from '../api/account';
import { NewPassword } from '../app/NewPassword';
import { TextField } from '../parts/Field';
import { FormFoot } from '../parts/FormFoot';
import { Moment } from '../parts/Moment';
import { useDraft } from '../parts/useDraft';
import { Waiting } from '../parts/Waiting';

export function PasswordPart() {
    return <Waiting query={useAccount()}>{(account) => <Parts account={account} />}</Waiting>;
}

function Parts({ account }: { account: Account }) {
    return (
        <div className="grid max-w-4xl gap-10 md:grid-cols-2">
            <NameForm account={account} />
            <PasswordForm account={account} />
        </div>
    );
}

function NameForm({ account }: { account: Account }) {
    const save = useKeepName();
    const form = useDraft({ name: account.name }, save);
    const submit = (event: FormEvent): void => {
        event.preventDefault();
        save.mutate(form.draft, { onSuccess: () => form.kept() });
    };

    return (
        <form onSubmit={submit} noValidate className="space-y-3" aria-labelledby="your-name">
            <h2 id="your-name" className="text-lg font-semibold">
                Name
            </h2>
            <TextField
                label="Your name"
                autoComplete="name"
                value={form.draft.name}
                error={form.errors.name}
                note="What you have done so far keeps the name that you had then."
                onChange={(event) => form.set({ name: event.target.value })}
            />
            <p className="text-soft">
                You sign in as <span className="text-ink">{account.email}</span>.
            </p>
            <FormFoot form={form} submit="Keep" saved="Kept" inFlow />
        </form>
    );
}

function PasswordForm({ account }: { account: Account }) {
    const save = useChangePassword();
    const form = useDraft({ current: '', password: '' }, save);
    const submit = (event: FormEvent): void => {
        event.preventDefault();
        save.mutate(form.draft, { onSuccess: () => form.kept({ current: '', password: '' }) });
    };

    return (
        <form onSubmit={submit} noValidate className="space-y-3" aria-labelledby="your-password">
            <h2 id="your-password" className="text-lg font-semibold">
                Password
            </h2>
            <p className="text-soft">
                {account.password_at ? (
                    <>
                        Set <Moment at={account.password_at} />.
                    </>
                ) : (
                    'Set when the account was made.'
                )}{' '}
                With another one all your other sessions end; tokens go on.
            </p>
            <input type="hidden" name="username" autoComplete="username" value={account.email} readOnly />
            <TextField
                label="The one you have"
                type="password"
                autoComplete="current-password"
                value={form.draft.current}
                error={form.errors.current}
                onChange={(event) => form.set({ current: event.target.value })}
            />
            <NewPassword value={form.draft.password} error={form.errors.password} onChange={(password) => form.set({ password })} />
            <FormFoot form={form} submit="Change it" saved="Changed" inFlow />
        </form>
    );
}
