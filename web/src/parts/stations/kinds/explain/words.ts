export const en = {
  name: 'Explain',
  drawing: 'Drawing',
  noDrawing: 'none',
}
