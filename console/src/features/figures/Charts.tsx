import { Box, Typography } from '@mui/material';
import { BarChart } from '@mui/x-charts/BarChart';
import type { Schemas } from '../../shared/data/api';
import { t } from './texts';

type Row = Schemas['FigureRow'];

/** Pictures of what the tables say; loaded by themselves. */
export default function Charts({ months, stages }: { months: Row[]; stages: Row[] }) {
  const hours = (seconds?: number | null) => (seconds == null ? null : Math.round(seconds / 360) / 10);
  // less than a tenth of an hour is nothing to draw
  const waits = stages.some((s) => hours(s.forYesMedianSeconds) || hours(s.forStartMedianSeconds));
  return (
    <>
      <Typography component="h3" variant="body1" sx={{ fontWeight: 650 }}>
        {t.ended}
      </Typography>
      <Box role="figure" aria-label={t.ended}>
        <BarChart
          height={260}
          xAxis={[{ data: months.map((m) => m.name), scaleType: 'band' }]}
          series={[
            { data: months.map((m) => m.cameThrough), label: t.series.through, stack: 'a', color: '#3F6B4F' },
            { data: months.map((m) => m.wentBack), label: t.series.back, stack: 'a', color: '#8A6D1F' },
            { data: months.map((m) => m.stopped), label: t.series.stopped, stack: 'a', color: '#8C8A80' },
            { data: months.map((m) => m.putBack + m.halfWritten), label: t.series.bad, stack: 'a', color: '#A33A2C' },
          ]}
        />
      </Box>
      {waits && (
        <>
          <Typography component="h3" variant="body1" sx={{ fontWeight: 650 }}>
            {t.lost}
          </Typography>
          <Box role="figure" aria-label={t.lost}>
            <BarChart
              height={80 + stages.length * 50}
              layout="horizontal"
              yAxis={[{ data: stages.map((s) => s.name), scaleType: 'band', width: 110 }]}
              series={[
                { data: stages.map((s) => hours(s.forYesMedianSeconds)), label: t.series.yes, color: '#4A4FB0' },
                { data: stages.map((s) => hours(s.forStartMedianSeconds)), label: t.series.start, color: '#8C8A80' },
              ]}
            />
          </Box>
        </>
      )}
    </>
  );
}
