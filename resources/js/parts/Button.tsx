import type { ButtonHTMLAttributes } from 'react';
import { Link, type LinkProps } from 'react-router';

type Look = 'plain' | 'main' | 'danger';

const LOOKS: Record<Look, string> = {
    plain: 'border-line bg-leaf text-ink hover:border-ink',
    main: 'border-accent bg-accent text-white hover:bg-ink hover:border-ink',
    danger: 'border-broken bg-leaf text-broken hover:bg-broken hover:text-white',
};

const SHAPE = 'inline-flex items-center gap-2 rounded-xs border px-3 py-1 whitespace-nowrap disabled:opacity-50';

export function Button({ look = 'plain', className = '', ...rest }: ButtonHTMLAttributes<HTMLButtonElement> & { look?: Look }) {
    return <button type="button" className={`${SHAPE} ${LOOKS[look]} ${className}`} {...rest} />;
}

export function ButtonLink({ look = 'plain', className = '', ...rest }: LinkProps & { look?: Look }) {
    return <Link className={`${SHAPE} ${LOOKS[look]} ${className}`} {...rest} />;
}
