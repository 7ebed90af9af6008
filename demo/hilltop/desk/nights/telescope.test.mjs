import test from 'node:test'

test('a telescope has a name', () => {})
