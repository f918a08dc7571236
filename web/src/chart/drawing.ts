import { createContext, useContext } from 'react'
import type { Geometry } from './model/geometry.ts'

const Drawing = createContext<Geometry | null>(null)

export const DrawingProvider = Drawing.Provider

/** Where everything stands of the chart that this is over; null outside of one. */
export const useDrawing = (): Geometry | null => useContext(Drawing)
