// @vitest-environment happy-dom
import { act, cleanup, fireEvent, renderHook } from '@testing-library/react';
import { afterEach, expect, it } from 'vitest';
import { useSelectedSources } from './useSelectedSources';

afterEach(cleanup);

it('sources are selected one by one, a range with Shift, all with Ctrl A, none with Escape', () => {
  const listed = (): string[] => ['a', 'b', 'c', 'd'];
  const { result } = renderHook(() => useSelectedSources(listed));
  const chosen = (): string => [...result.current.ids].join('');
  act(() => result.current.choose('d', true, false));
  act(() => result.current.choose('b', true, true));
  expect(chosen()).toBe('dbc');
  act(() => result.current.choose('c', false, false));
  expect(chosen()).toBe('db');
  act(() => void fireEvent.keyDown(document.body, { key: 'a', ctrlKey: true }));
  expect(chosen()).toBe('abcd');
  const field = document.body.appendChild(document.createElement('input'));
  act(() => void fireEvent.keyDown(field, { key: 'Escape' }));
  expect(chosen()).toBe('abcd');
  act(() => void fireEvent.keyDown(document.body, { key: 'Escape' }));
  expect(chosen()).toBe('');
});
