/** Light up the ports that a wire from this one can end in, and dim the others. */
export function lightUp(
  host: HTMLElement | null,
  fits: (part: string, port: string) => boolean,
): void {
  host?.querySelectorAll<HTMLElement>("[data-port]").forEach((handle) => {
    handle.classList.add(
      fits(handle.dataset.part!, handle.dataset.port!) ? "port-legal" : "port-illegal",
    );
  });
}

export function lightsOut(host: HTMLElement | null): void {
  host
    ?.querySelectorAll(".port-legal, .port-illegal")
    .forEach((handle) => handle.classList.remove("port-legal", "port-illegal"));
}
