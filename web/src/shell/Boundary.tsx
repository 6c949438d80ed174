import { Component, type ReactNode } from "react";
import { Trouble } from "./Trouble";

type State = { error: unknown };

/** What broke in the page itself, a part of it that could not be fetched for one, and a way on. */
export class Boundary extends Component<{ children: ReactNode }, State> {
  override state: State = { error: undefined };

  static getDerivedStateFromError(error: unknown): State {
    return { error };
  }

  override render() {
    if (this.state.error === undefined) return this.props.children;
    return <Trouble error={this.state.error} onAgain={() => location.reload()} />;
  }
}
