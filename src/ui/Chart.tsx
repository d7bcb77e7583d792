import { useEffect, useRef } from 'react';
import type { EChartsCoreOption } from 'echarts/core';

interface ChartProps {
  /** What the chart says, for those who do not see it. */
  readonly label: string;
  readonly option: EChartsCoreOption;
  readonly heightPx: number;
  readonly testId?: string;
}

/** A line chart. The drawing library is loaded when the first chart is shown. */
export function Chart({ label, option, heightPx, testId }: ChartProps) {
  const box = useRef<HTMLDivElement>(null);
  const latest = useRef(option);
  latest.current = option;
  const show = useRef<((next: EChartsCoreOption) => void) | null>(null);

  useEffect(() => {
    let gone = false;
    let end: (() => void) | undefined;
    void import('./echarts.ts').then(({ init }) => {
      const element = box.current;
      if (gone || !element) return;
      const chart = init(element, null, { renderer: 'svg' });
      show.current = (next) => {
        chart.setOption(next, { notMerge: true });
      };
      show.current(latest.current);
      element.dataset.drawn = 'true';
      const observer = new ResizeObserver(() => {
        chart.resize();
      });
      observer.observe(element);
      end = () => {
        observer.disconnect();
        chart.dispose();
      };
    });
    return () => {
      gone = true;
      show.current = null;
      end?.();
    };
  }, []);

  useEffect(() => {
    show.current?.(option);
  }, [option]);

  return (
    <div
      ref={box}
      role="img"
      aria-label={label}
      style={{ height: heightPx }}
      data-testid={testId}
    />
  );
}
