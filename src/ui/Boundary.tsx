'use client';
import { Component, type ReactNode } from 'react';
import { TextButton } from './Button';
import { Note } from './sheets';

interface BoundaryProps {
  /** What is inside, as a message names it: "The curves". */
  readonly name: string;
  /** When this changes, what failed is tried again: the design, for instance. */
  readonly retryOn?: unknown;
  readonly children: ReactNode;
}

interface BoundaryState {
  readonly error: Error | null;
  readonly retryOn: unknown;
}

/**
 * Keeps a fault to the part of the screen in which it happened. (React offers this to class
 * components only.)
 */
export class Boundary extends Component<BoundaryProps, BoundaryState> {
  override state: BoundaryState = { error: null, retryOn: this.props.retryOn };

  static getDerivedStateFromError(this: void, error: unknown): Partial<BoundaryState> {
    return { error: error instanceof Error ? error : new Error(String(error)) };
  }

  static getDerivedStateFromProps(
    this: void,
    { retryOn }: BoundaryProps,
    state: BoundaryState,
  ): Partial<BoundaryState> | null {
    return Object.is(retryOn, state.retryOn) ? null : { error: null, retryOn };
  }

  override render(): ReactNode {
    const { error } = this.state;
    if (!error) return this.props.children;
    return (
      <Note $kind="alarm" role="alert">
        {this.props.name} could not be shown: {error.message}{' '}
        <TextButton onPress={() => this.setState({ error: null })}>Try again</TextButton>
      </Note>
    );
  }
}
