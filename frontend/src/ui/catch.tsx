import { Component, type ReactNode } from "react";

/** Shows a sentence in the place of a view that could not be drawn; what was kept on the server is not touched by it. */
export class Catch extends Component<{ children: ReactNode }, { fault: string | null }> {
  override state = { fault: null };

  static getDerivedStateFromError(fault: unknown) {
    return { fault: fault instanceof Error ? fault.message : String(fault) };
  }

  override render() {
    if (this.state.fault === null) return this.props.children;
    return (
      <div role="alert" className="p-8">
        <p className="text-error font-medium">✕ This view cannot be shown: {this.state.fault}</p>
        <p className="muted">Every edit that was acknowledged is kept.</p>
        <button type="button" className="btn btn-sm mt-3" onClick={() => window.location.reload()}>
          Load it again
        </button>
      </div>
    );
  }
}
