import { Trans } from "@lingui/react/macro";
import { Component, type ReactNode } from "react";
import { Link, useLocation } from "react-router";

interface BoundaryProps {
  at: string;
  children: ReactNode;
}

class Boundary extends Component<BoundaryProps, { problem: Error | null }> {
  state = { problem: null as Error | null };

  static getDerivedStateFromError(problem: Error) {
    return { problem };
  }

  componentDidUpdate(before: BoundaryProps) {
    if (before.at !== this.props.at && this.state.problem) this.setState({ problem: null });
  }

  render() {
    const { problem } = this.state;
    if (!problem) return this.props.children;
    return (
      <div role="alert" className="m-8 border-l-4 border-suspect bg-sheet p-4">
        <h1 className="text-xl font-bold">
          <Trans>This page could not be shown</Trans>
        </h1>
        <p className="mt-2">
          <Trans>
            Its script failed to load, or stopped: {problem.message}. What was entered is kept, also what was
            not sent yet; an update of Uvrix asks for the page to be loaded anew.
          </Trans>
        </p>
        <p className="mt-3 flex items-center gap-4">
          <button type="button" className="button" onClick={() => window.location.reload()}>
            <Trans>Reload the page</Trans>
          </button>
          <Link to="/shelf" className="button-plain">
            <Trans>Go to the shelf</Trans>
          </Link>
        </p>
      </div>
    );
  }
}

/** A page whose script fails says so, with the way out; another address begins afresh. */
export function ErrorBoundary({ children }: { children: ReactNode }) {
  return <Boundary at={useLocation().pathname}>{children}</Boundary>;
}
