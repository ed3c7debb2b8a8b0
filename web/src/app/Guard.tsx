/** A screen that breaks says so and keeps everything: what was entered lies in the outbox. */
import { Component, type ReactNode } from "react";

import { Button, Message } from "../ui/parts";

export class Guard extends Component<{ children: ReactNode }, { broken: boolean }> {
  state = { broken: false };

  static getDerivedStateFromError() {
    return { broken: true };
  }

  render() {
    if (!this.state.broken) return this.props.children;
    return (
      <Message title="This screen failed to draw">
        <p>What you entered is kept. Load the page again; if it happens once more, export the plan and report it.</p>
        <Button className="mt-4" onClick={() => window.location.reload()}>
          Load again
        </Button>
      </Message>
    );
  }
}
