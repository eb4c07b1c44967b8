// @vitest-environment happy-dom
import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { useGesture } from './useGesture';

let told: string[] = [];

function Handle({ refuses = false }: { refuses?: boolean }) {
  const bind = useGesture(
    ({ clientX }) =>
      refuses
        ? null
        : {
            move: (event) => told.push(`move ${event.clientX - clientX}`),
            finish: () => told.push('finish'),
            cancel: () => told.push('cancel'),
          },
    (at) => told.push(at ? `at ${at.x}` : 'end'),
  );
  return <div {...bind()}>handle</div>;
}

const press = (): void => {
  fireEvent.pointerDown(screen.getByText('handle'), { buttons: 1, pointerId: 1, clientX: 10, clientY: 0 });
};
const move = (clientX: number): void => {
  fireEvent.pointerMove(window, { buttons: 1, pointerId: 1, clientX, clientY: 0 });
};
const release = (clientX: number): void => {
  fireEvent.pointerUp(window, { buttons: 0, pointerId: 1, clientX, clientY: 0 });
};

beforeEach(() => void (told = []));
afterEach(cleanup);

describe('a drag', () => {
  it('is told of every movement over the window and of its end', () => {
    render(<Handle />);
    press();
    move(15);
    move(30);
    release(30);
    move(60);
    expect(told).toEqual(['move 5', 'at 15', 'move 20', 'at 30', 'finish', 'end']);
  });

  it('is cancelled by Escape, which nothing else hears then', () => {
    render(<Handle />);
    press();
    move(15);
    let heard = 0;
    document.addEventListener('keydown', () => heard++, { once: true });
    fireEvent.keyDown(document.body, { key: 'Escape' });
    release(30);
    expect(told).toEqual(['move 5', 'at 15', 'cancel', 'end']);
    expect(heard).toBe(0);
    fireEvent.keyDown(document.body, { key: 'Escape' });
    expect(heard).toBe(1);
  });

  it('is cancelled when what it is on goes away, and when the system takes the pointer', () => {
    const { unmount } = render(<Handle />);
    press();
    unmount();
    expect(told).toEqual(['cancel', 'end']);
    told = [];
    render(<Handle />);
    press();
    fireEvent.pointerCancel(window, { pointerId: 1 });
    expect(told).toEqual(['cancel', 'end']);
  });

  it('of nothing is none', () => {
    render(<Handle refuses />);
    press();
    move(30);
    release(30);
    expect(told).toEqual([]);
  });
});
