export const en = {
  name: 'Explain',
  drawing: 'Drawing',
  noDrawing: 'none',
  pictures: 'Own pictures (up to six)',
  alt: 'What it shows, for who does not see it',
  altHint: 'e.g. a cracked hose at the manifold nipple',
  altFirst: 'Say first what the picture shows; then choose the file.',
  caption: 'Words below it',
  add: 'Choose a picture',
  adding: 'Cleaning the picture',
  takeOut: 'Take it out',
}
