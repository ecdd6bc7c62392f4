import { useEffect, useState } from 'react';

/** A value once it has stayed what it is for a while; told apart by its JSON. */
export function useDebounced<T>(value: T, ms: number): T {
    const text = JSON.stringify(value);
    const [settled, setSettled] = useState({ text, value });
    useEffect(() => {
        const timer = setTimeout(() => setSettled({ text, value: JSON.parse(text) as T }), ms);

        return () => clearTimeout(timer);
    }, [text, ms]);

    return settled.value;
}
