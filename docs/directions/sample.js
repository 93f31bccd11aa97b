// One invented week and one post, shared by the three directions so that only the form differs.
const categories = {
  Si: { name: 'Sightings', colour: '#0f79aa' },
  Fc: { name: 'Field craft', colour: '#c59e0a', dark: true },
  Rd: { name: 'Ringing data', colour: '#7841ab' },
  Il: { name: 'Island life', colour: '#7a8c52', dark: true },
  Ws: { name: 'Walks & stays', colour: '#883700' },
  Ap: { name: 'Appeals', colour: '#d7768a', dark: true },
};
const channels = ['Marram on Jot', 'Ferry notes', 'Friends of Marram', 'Island walks', 'Marram in pictures', 'Hostel window'];
const days = ['Mon 23 Nov', 'Tue 24 Nov', 'Wed 25 Nov', 'Thu 26 Nov', 'Fri 27 Nov', 'Sat 28 Nov', 'Sun 29 Nov'];
// day, time, category, post (null: nothing to send), channels, state
const week = [
  [0, '07:30', 'Si', 'First woodcock of the winter', [0, 2], 'sent'],
  [0, '12:15', 'Fc', 'Four gulls, four beaks', [0, 2, 4], 'sent'],
  [0, '18:00', 'Il', 'The boiler has a name now', [2, 5], 'sent'],
  [1, '07:30', 'Si', 'Fieldfares over the north field', [0], 'sent'],
  [1, '13:00', 'Rd', 'A wren that came back six times', [0, 2], 'refused'],
  [1, '17:30', 'Ws', 'Two beds left for the solstice', [3, 5], 'sent'],
  [2, '07:30', 'Si', 'Snow buntings on the shingle', [0, 2, 4], 'sending'],
  [2, '12:15', 'Fc', 'How to age a robin in the hand', [0, 4], 'settled'],
  [2, '19:00', 'Ap', 'A new mist net costs forty', [2], 'settled'],
  [3, '07:30', 'Si', 'What the night watch heard', [0], 'projected'],
  [3, '12:15', 'Rd', 'Ten autumns on one page', [0, 2], 'projected'],
  [3, '18:00', 'Il', 'Washing day at the lighthouse', [2, 4, 5], 'projected'],
  [4, '07:30', 'Si', 'Snow buntings on the shingle', [2], 'projected'],
  [4, '12:15', 'Fc', 'Read a moult line in three looks', [0, 2, 4], 'projected'],
  [4, '17:30', 'Ws', 'Friday walk: the seal slip', [3, 5], 'projected'],
  [5, '09:00', 'Il', 'Saturday loaf, and who cut it', [2, 4], 'projected'],
  [5, '11:00', 'Ws', null, [3, 5], 'empty'],
  [6, '09:00', 'Si', 'Week in birds: 61 kinds', [0, 2, 4], 'projected'],
  [6, '18:00', 'Ap', null, [2], 'empty'],
];
const post = {
  title: 'Four gulls, four beaks',
  category: 'Fc',
  text: 'Four gulls, four beaks. Before you look at legs or backs, look at the beak: length against the eye, the bend of the lower edge, and where the red sits. Print the card, take it to the harbour, and tell us which one fooled you.',
  variants: [
    { channel: 0, text: 'Four gulls, four beaks. Length, bend, and where the red sits. Which one fooled you?', count: '107 of 280', changed: true },
    { channel: 2, text: null, count: '226 of 60,000', changed: false },
    { channel: 4, text: 'Four gulls, four beaks. Swipe for the card, then go and look. #gulls #fieldcraft', count: '81 of 2,000', changed: true, finding: 'Picture 2 is 380 px wide; at least 400 are needed.' },
  ],
};
const make = (tag, className, html = '') => {
  const element = document.createElement(tag);
  if (className) element.className = className;
  element.innerHTML = html;
  return element;
};
const minutes = (time) => Number(time.slice(0, 2)) * 60 + Number(time.slice(3));
