'use client'
import { useStudio } from '../store'
import { ContainerLines } from './ContainerLines'
import { Distances } from './Distances'
import { GradientHandles } from './GradientHandles'
import { Handles } from './Handles'

interface Props {
  /** Whether it may be pulled at now. */
  readonly workable: boolean
  /** Of the page's viewport, CSS px. */
  readonly width: number
  readonly height: number
  readonly scale: number
}

/** What stands on the selected element to measure it and to pull at. */
export function OnChosen({ workable, width, height, scale }: Props) {
  const frames = useStudio((s) => s.frames)
  const hover = useStudio((s) => s.hover)
  const picked = useStudio((s) => s.picked)
  const measuring = useStudio((s) => s.measuring)
  const property = useStudio((s) => s.property)
  const drawing = useStudio((s) => s.drawing)
  const geometry = frames.picked
  if (!geometry || !picked) return null
  const { node } = picked.report.info
  return (
    <>
      {!drawing && <ContainerLines geometry={geometry} scale={scale} />}
      {measuring && (
        <Distances
          geometry={geometry}
          around={hover && hover.node !== node ? frames.hover : null}
          width={width}
          height={height}
          scale={scale}
        />
      )}
      {workable && <Handles key={node} geometry={geometry} picked={picked} scale={scale} />}
      {workable && property === 'background-image' && <GradientHandles geometry={geometry} picked={picked} scale={scale} />}
    </>
  )
}
