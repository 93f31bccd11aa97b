#!/usr/bin/env bash
# Draws the demo's films and the pictures that stand for them, with ffmpeg: sky, sea, and one thing that moves. Run once.
set -euo pipefail
cd "$(dirname "$0")"
draw() { # NAME SECONDS SKY SEA MOVING
  ffmpeg -v error -y -f lavfi -i "gradients=size=360x640:c0=$3:c1=0xf6d9b8:x0=180:y0=0:x1=180:y1=420:speed=0.00001:rate=20" -t "$2" \
    -vf "drawbox=x=0:y=420:w=360:h=220:color=$4:t=fill,$5" -c:v libx264 -preset veryslow -crf 30 -pix_fmt yuv420p -movflags +faststart "$1.mp4"
  ffmpeg -v error -y -ss 1 -i "$1.mp4" -frames:v 1 -q:v 4 "$1.jpg"
}
draw slip 6 0x8fb3c4 0x3d6377 "drawbox=x=300-35*t:y=396:w=70:h=24:color=0x2b2f33:t=fill,drawbox=x=325-35*t:y=376:w=26:h=20:color=0xb9452f:t=fill,drawbox=x=0:y=560:w=360:h=80:color=0x6d6a60:t=fill"
draw light 7 0x40506b 0x26384d "drawbox=x=160:y=420:w=40:h=220:color=0xf2c879@0.55:t=fill,drawbox=x=120:y=460+4*sin(3*t):w=120:h=3:color=0xf7e6c0:t=fill,drawbox=x=135:y=500+5*sin(2*t+1):w=90:h=3:color=0xf7e6c0:t=fill,drawbox=x=110:y=545+6*sin(2.5*t+2):w=140:h=4:color=0xf7e6c0:t=fill"
ffmpeg -v error -y -ss 4 -i dawn.mp4 -frames:v 1 -q:v 4 dawn.jpg
