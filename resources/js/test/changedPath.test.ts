import { expect, it } from 'vitest';
import { changedPath } from '../parts/changedPath';

it.each([
    [{ a: 'x', b: 1 }, { a: 'xy', b: 1 }, 'a', true],
    [{ a: [{ b: 'x' }, { b: 'y' }] }, { a: [{ b: 'x' }, { b: 'yz' }] }, 'a.1.b', true],
    [{ a: ['x', 'y'] }, { a: ['y', 'x'] }, 'a', false],
    [{ a: ['x'] }, { a: ['x', 'y'] }, 'a.1', false],
    [{ a: 1 }, { a: 2 }, 'a', false],
    [{ a: 'x', b: 'x' }, { a: 'y', b: 'y' }, '', false],
    [{ a: null }, { a: { b: 1 } }, 'a', false],
])('tells where %j and %j differ', (before, after, path, isText) => {
    expect(changedPath(before, after)).toEqual({ path, isText });
});
