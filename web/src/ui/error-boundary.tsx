import { Component, type ErrorInfo, type ReactNode } from "react";

import { Button } from "./button";

type Props = { children: ReactNode; /** Another place: what failed there is not what is shown here. */ place: string };
type State = { failed: Error | null; at: string };

/** Around a station: what fails to be drawn is said, with a way back; drafts are kept by the browser and the server. */
export class ErrorBoundary extends Component<Props, State> {
  override state: State = { failed: null, at: this.props.place };

  static getDerivedStateFromError(failed: Error): Partial<State> {
    return { failed };
  }

  static getDerivedStateFromProps({ place }: Props, state: State): Partial<State> | null {
    return place === state.at ? null : { failed: null, at: place };
  }

  override componentDidCatch(error: Error, info: ErrorInfo) {
    console.error(error, info.componentStack);
  }

  override render() {
    if (!this.state.failed) return this.props.children;
    return (
      <div role="alert" className="panel m-4 grid max-w-xl justify-items-start gap-3 p-5">
        <h1 className="text-xl">This could not be shown.</h1>
        <p>Something broke in the page itself. What you typed is kept: draw it again, or go elsewhere and come back.</p>
        <p className="text-sm text-muted">{this.state.failed.message}</p>
        <Button kind="dark" onClick={() => this.setState({ failed: null })}>
          Draw it again
        </Button>
      </div>
    );
  }
}
