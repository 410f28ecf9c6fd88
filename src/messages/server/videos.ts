/** What the server says of videos. */
export const videos = {
  thisVideo: 'This video',
  thisFileHoldsNoCaptions: 'This file holds no captions. Choose a SubRip (.srt) or WebVTT (.vtt) file.',
}
