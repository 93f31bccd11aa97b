import { Component, type ReactNode } from 'react';
import { Button } from './Button';

/** Replaces a view that broke while it was drawn: never a blank page, and what was typed is in the browser's keeping. */
export class ErrorBoundary extends Component<{ children: ReactNode }, { broken: boolean }> {
  override state = { broken: false };

  static getDerivedStateFromError() {
    return { broken: true };
  }

  override render() {
    if (!this.state.broken) return this.props.children;
    return (
      <div role="alert" className="m-8 max-w-prose border-bad border-l-4 bg-bad-wash px-5 py-4">
        <h2>Something broke on this page</h2>
        <p className="my-2">
          What you saved is safe, and what you typed on the post desk is kept in this browser. Load the page again; if
          it breaks again, tell whoever runs Able Lark what you did last.
        </p>
        <Button variant="primary" onClick={() => window.location.reload()}>
          Load the page again
        </Button>
      </div>
    );
  }
}
