import type { Right } from '../api/account';

export const RIGHTS: { right: Right; name: string; words: string }[] = [
    { right: 'look', name: 'Look', words: 'see everything' },
    { right: 'work', name: 'Work', words: 'see everything, define goals, tags and experiments, rehearse and audit' },
    {
        right: 'publish',
        name: 'Publish',
        words: 'see and define everything, start and stop experiments, publish code, change what is captured',
    },
    { right: 'own', name: 'Own', words: 'do everything, and decide who may what' },
];

export const rightWords = (right: Right): string => RIGHTS.find((one) => one.right === right)?.words ?? right;

export const rightOptions = RIGHTS.map(({ right, name }) => ({ value: right, label: name }));

/** Whether one right includes another. */
export const includes = (mine: Right, other: Right): boolean =>
    RIGHTS.findIndex(({ right }) => right === mine) >= RIGHTS.findIndex(({ right }) => right === other);
