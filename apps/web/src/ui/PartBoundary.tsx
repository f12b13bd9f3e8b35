import { Component, type JSX, type ReactNode } from 'react';

interface Props {
  /** what it shows, after "Cannot show" */
  what: string;
  /** shown in its place; a line of words where nothing is given */
  instead?: (error: Error, retry: () => void) => ReactNode;
  children: ReactNode;
}

/** A part of a screen that breaks alone: everything beside it goes on. */
export class PartBoundary extends Component<Props, { error: Error | undefined }> {
  override state: { error: Error | undefined } = { error: undefined };

  static getDerivedStateFromError(error: unknown): { error: Error } {
    return { error: error instanceof Error ? error : new Error(String(error)) };
  }

  override render(): ReactNode {
    const { what, instead, children } = this.props;
    const { error } = this.state;
    if (error === undefined) return children;
    const retry = (): void => this.setState({ error: undefined });
    return instead === undefined ? <BrokenLine what={what} onRetry={retry} /> : instead(error, retry);
  }
}

function BrokenLine({ what, onRetry }: { what: string; onRetry: () => void }): JSX.Element {
  return (
    <p role="alert" className="text-attention flex flex-wrap items-center gap-x-3 text-sm">
      <span>Cannot show {what}.</span>
      <button type="button" className="min-h-11 font-medium hover:underline" onClick={onRetry}>
        Try again
      </button>
    </p>
  );
}
