export const en = {
  name: 'Explain',
  drawing: 'Drawing',
  noDrawing: 'none',
  narrowband: 'narrowband sensor with its curve',
}
