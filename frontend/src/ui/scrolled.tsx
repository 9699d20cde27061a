import { useLayoutEffect, useRef, useState, type ReactNode } from "react";

/** Content that may be wider than its place: it scrolls, and takes the focus while there is something to scroll. */
export function Scrolled({
  label,
  className = "",
  children,
}: {
  label: string;
  className?: string;
  children: ReactNode;
}) {
  const place = useRef<HTMLDivElement>(null);
  const [wide, setWide] = useState(false);
  useLayoutEffect(() => {
    const element = place.current!;
    const measure = () => setWide(element.scrollWidth > element.clientWidth);
    measure();
    const observer = new ResizeObserver(measure);
    observer.observe(element);
    observer.observe(element.firstElementChild!);
    return () => observer.disconnect();
  }, []);
  return (
    <div
      ref={place}
      className={`overflow-x-auto overflow-y-hidden ${className}`}
      {...(wide && { role: "group", "aria-label": label, tabIndex: 0 })}
    >
      <div className="w-fit min-w-full">{children}</div>
    </div>
  );
}
