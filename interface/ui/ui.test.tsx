// @vitest-environment happy-dom
import { cleanup, render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { EBU_R128 } from '@/core/check/shipped';
import { verdictOf } from '@/core/check/verdict';
import { VerdictView } from '../shell/VerdictView';
import { CompareFigures } from './CompareFigures';
import { FailureNote } from './FailureNote';
import { OneOf } from './OneOf';
import { LevelMark } from './LevelMark';
import { NameField } from '../editing/NameField';
import { PickFiles } from './PickFiles';
import { ProgressLine } from './ProgressLine';
import { FIGURES, LEVELLED } from './specimens/made';
import { useTyped } from '../editing/useTyped';
import { WrongFile } from './WrongFile';

afterEach(cleanup);

describe('what is told', () => {
  it('a failure says what happened and what to do, and is an alert', () => {
    render(<FailureNote message="No room." hint="Make some." action={<button>Again</button>} />);
    expect(screen.getByRole('alert').textContent).toBe('No room. Make some.Again');
  });

  it('a file that is as predicted is not spoken of; another is told with the reason', () => {
    const { rerender, container } = render(<WrongFile wrong={[]} hint="Try again." />);
    expect(container.textContent).toBe('');
    rerender(<WrongFile wrong={['It is 1.0 LU off.']} hint="Try again." />);
    expect(screen.getByRole('alert').textContent).toBe('It is 1.0 LU off. Try again.');
  });

  it('progress is a figure in words too, and can be stopped', async () => {
    const onCancel = vi.fn();
    render(<ProgressLine label="Measuring" done={0.404} onCancel={onCancel} />);
    expect(screen.getByRole('status').textContent).toBe('Measuring 40 %');
    expect(screen.getByRole('progressbar').getAttribute('aria-valuenow')).toBe('40');
    await userEvent.click(screen.getByRole('button', { name: 'Cancel' }));
    expect(onCancel).toHaveBeenCalledOnce();
  });

  it('a verdict has every figure that the target limits, in words, with how far it is off', () => {
    render(<VerdictView verdict={verdictOf(FIGURES, EBU_R128)} of="the tone" />);
    const dials = screen.getAllByRole('group').map((dial) => dial.getAttribute('aria-label'));
    expect(dials).toHaveLength(2);
    expect(dials[0]).toMatch(/^Integrated −\d+\.\d LUFS, \d+\.\d LU over/);
    expect(dials[1]).toMatch(/^True peak .* dBTP, \d\.\d dB over/);
  });

  it('two states of a sound stand beside each other with their difference', () => {
    render(<CompareFigures a={FIGURES} b={LEVELLED} aTitle="As it was" bTitle="Levelled" />);
    const [before, after, difference] = within(screen.getByRole('row', { name: /^Integrated/ }))
      .getAllByRole('cell')
      .map(({ textContent }) => Number(textContent!.replace('−', '-')));
    expect(after).toBe(-23);
    expect(after! - before!).toBeCloseTo(difference!, 1);
  });

  it('under, within, over and unknown have a shape of their own, without any colour', () => {
    const shapes = (['under', 'within', 'over', 'unknown'] as const).map((standing) => {
      const { container } = render(<LevelMark standing={standing} />);
      const path = container.querySelector('path')!;
      return `${path.getAttribute('d')} ${path.getAttribute('fill') === 'none'}`;
    });
    expect(new Set(shapes).size).toBe(4);
  });
});

describe('what is typed and picked', () => {
  it('a name is taken by Enter, cut to its length; Escape and nothing at all change nothing', async () => {
    const onName = vi.fn();
    render(<NameField label="Name" name="Reel" most={8} sx={{}} onName={onName} />);
    const field = screen.getByRole<HTMLInputElement>('textbox', { name: 'Name' });
    await userEvent.clear(field);
    await userEvent.type(field, 'Reel 2 of 3{Enter}');
    expect(onName.mock.calls).toEqual([['Reel 2 o']]);
    await userEvent.clear(field);
    await userEvent.type(field, 'x{Escape}');
    expect(field.value).toBe('Reel');
    await userEvent.clear(field);
    await userEvent.tab();
    expect(onName).toHaveBeenCalledOnce();
  });

  it('a typed value is taken by Enter or by leaving, refused with its reason, given back by Escape', async () => {
    function Field() {
      const [value, setValue] = useState('3');
      const { error, handlers } = useTyped(value, (text) => {
        if (text === 'no') return 'A number, please';
        setValue(text);
        return null;
      });
      return (
        <>
          <input aria-label="Value" {...handlers} />
          {error}
        </>
      );
    }
    const { container } = render(<Field />);
    const field = screen.getByRole<HTMLInputElement>('textbox', { name: 'Value' });
    await userEvent.clear(field);
    await userEvent.type(field, 'no{Enter}');
    expect(container.textContent).toBe('A number, please');
    await userEvent.type(field, '{Escape}');
    expect([field.value, container.textContent]).toEqual(['3', '']);
    await userEvent.clear(field);
    await userEvent.type(field, '5');
    await userEvent.tab();
    expect(field.value).toBe('5');
  });

  it('one of a few is selected, never none', async () => {
    const onSelect = vi.fn();
    render(
      <OneOf
        label="Depth"
        of={['16', '24']}
        value="24"
        words={(each) => `${each}-bit`}
        onSelect={onSelect}
      />,
    );
    expect(screen.getAllByRole('button')).toHaveLength(2);
    await userEvent.click(screen.getByRole('button', { name: '24-bit' }));
    expect(onSelect).not.toHaveBeenCalled();
    await userEvent.click(screen.getByRole('button', { name: '16-bit' }));
    expect(onSelect).toHaveBeenCalledWith('16');
  });

  it('of a picked folder what the system hides is not meant', async () => {
    const onFiles = vi.fn();
    render(<PickFiles label="Add a folder" multiple folder onFiles={onFiles} />);
    const input = document.querySelector<HTMLInputElement>('input[type=file]')!;
    const files = ['a.wav', '.hidden'].map((name) => new File(['x'], name));
    await userEvent.upload(input, files);
    const [[given]] = onFiles.mock.calls as [[File[]]];
    expect(given.map(({ name }) => name)).toEqual(['a.wav']);
  });
});
