import { extent } from 'd3-array'
import type { ReactNode } from 'react'
import { linePath } from '../chart/model/path.ts'
import { linear } from '../chart/model/scale.ts'
import classes from './Improvements.module.css'
import type { Aim } from './improvements.ts'

interface Props {
  aim: Aim
  width: number
  height: number
}

/** The values before and since on one line, cut at the day, with the baseline going on dotted. */
export function SmallOutcome({ aim, width, height }: Props) {
  const { before, since } = aim.drawn
  const values = [...before, ...since]
  if (values.length === 0) return null
  const levels = (['lower', 'average', 'upper'] as const).flatMap((name) => {
    const level = aim[name]
    return level === null ? [] : [{ name, level }]
  })
  const [low = 0, high = 1] = extent([...values, ...levels.map(({ level }) => level)])
  const y = linear([low, high === low ? low + 1 : high], [height - 4, 4])
  const x = linear([0, Math.max(1, values.length - 1)], [3, width - 4])
  const cut = before.length === 0 ? 0 : x(before.length - 0.5)
  const path = linePath(values.length, (n) => [x(n), y(values[n] ?? 0)])
  return (
    <Small
      width={width}
      height={height}
      says={`${aim.kpi_name}: ${before.length} values before, ${aim.m} since`}
    >
      {aim.lower !== null && aim.upper !== null && (
        <rect
          x={0}
          y={y(aim.upper)}
          width={cut}
          height={Math.max(0, y(aim.lower) - y(aim.upper))}
          fill="var(--mist)"
        />
      )}
      {levels.map(({ name, level }) => (
        <g key={name} stroke="var(--sea)" strokeWidth={1}>
          <line
            x1={0}
            x2={cut}
            y1={y(level)}
            y2={y(level)}
            strokeDasharray={name === 'average' ? undefined : '4 3'}
          />
          <line x1={cut} x2={width} y1={y(level)} y2={y(level)} strokeDasharray="1.5 3" />
        </g>
      ))}
      <line x1={cut} x2={cut} y1={0} y2={height} stroke="var(--ink)" strokeWidth={1.2} />
      <path d={path} fill="none" stroke="var(--ink)" strokeWidth={1.1} />
    </Small>
  )
}

/** What it has brought after each value since, within the band that chance alone makes. */
export function SmallCourse({ aim, width, height }: Props) {
  const { course, band } = aim.drawn
  if (course.length < 2) return null
  const [low = 0, high = 0] = extent([0, ...course, ...band, ...band.map((each) => -each)])
  const y = linear([low, high === low ? low + 1 : high], [height - 3, 3])
  const x = linear([0, course.length - 1], [2, width - 4])
  const last = course.length - 1
  const top = linePath(course.length, (n) => [x(n), y(band[n] ?? 0)])
  const bottom = linePath(course.length, (n) => [x(last - n), y(-(band[last - n] ?? 0))])
  return (
    <Small width={width} height={height} says={`What it brought so far: ${aim.says}`}>
      <path d={`${top}L${bottom.slice(1)}Z`} fill="var(--lane)" />
      <line x1={0} x2={width} y1={y(0)} y2={y(0)} stroke="var(--quiet)" strokeWidth={0.8} />
      <path
        d={linePath(course.length, (n) => [x(n), y(course[n] ?? 0)])}
        fill="none"
        stroke="var(--sea)"
        strokeWidth={1.8}
      />
    </Small>
  )
}

interface SmallProps {
  width: number
  height: number
  says: string
  children: ReactNode
}

function Small({ width, height, says, children }: SmallProps) {
  return (
    <svg
      className={classes.small}
      width={width}
      height={height}
      viewBox={`0 0 ${width} ${height}`}
      preserveAspectRatio="none"
      role="img"
      aria-label={says}
    >
      {children}
    </svg>
  )
}
