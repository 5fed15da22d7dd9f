/** Catches what a place throws (a load that failed, a fault of ours) and offers a way on. */
import { QueryErrorResetBoundary } from "@tanstack/react-query";
import { Component, type ReactNode } from "react";
import { Failure, isLoadFailure } from "./feedback";

class Catcher extends Component<{ children: ReactNode; reset: () => void }, { error: unknown }> {
  override state: { error: unknown } = { error: null };

  static getDerivedStateFromError(error: unknown) {
    return { error };
  }

  override render() {
    if (this.state.error === null) return this.props.children;
    const retry = () => {
      // The browser remembers that a bundle failed; only a new page asks for it again.
      if (isLoadFailure(this.state.error)) window.location.reload();
      this.props.reset();
      this.setState({ error: null });
    };
    return <Failure error={this.state.error} retry={retry} />;
  }
}

export function Boundary({ children }: { children: ReactNode }) {
  return (
    <QueryErrorResetBoundary>
      {({ reset }) => <Catcher reset={reset}>{children}</Catcher>}
    </QueryErrorResetBoundary>
  );
}
