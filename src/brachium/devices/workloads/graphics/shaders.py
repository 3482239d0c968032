"""The programs of the graphics tests (GLSL 3.30): what a point and a picture element cost. All shapes come from numbers
of the vertex alone, so that no data has to be brought to the chip."""

from __future__ import annotations

HEAD = "#version 330 core\n"
WHOLE = (
    HEAD
    + """
out vec2 at;
void main() {
    vec2 corner = vec2((gl_VertexID << 1) & 2, gl_VertexID & 2);
    at = corner;
    gl_Position = vec4(corner * 2.0 - 1.0, 0.0, 1.0);
}
"""
)  # one triangle over the whole picture
FILL = (
    HEAD
    + """
in vec2 at; out vec4 colour;
void main() { colour = vec4(at, 0.5, 0.02); }
"""
)
TEXTURE = (
    HEAD
    + """
in vec2 at; out vec4 colour; uniform sampler2D grain; uniform float shift;
void main() {
    vec2 p = at * 3.0 + shift; vec4 sum = vec4(0.0);
    for (int k = 0; k < 16; ++k) { vec4 v = texture(grain, p); sum += v; p += v.xy * 0.37 + 0.11; }
    colour = sum / 16.0;
}
"""
)
ARITHMETIC = (
    HEAD
    + """
in vec2 at; out vec4 colour; uniform float shift;
void main() {
    vec4 v = vec4(at, at.yx + shift);
    for (int k = 0; k < 128; ++k) v = v * vec4(0.7, 0.6, 0.8, 0.5) + v.yzwx * 0.25;
    colour = v;
}
"""
)
GRID_POINTS = (
    HEAD
    + """
uniform int side; uniform float shift; out vec3 place;
void main() {
    int cell = gl_VertexID / 6, corner = gl_VertexID % 6;
    ivec2 c = ivec2(cell % side, cell / side);
    ivec2 d = corner == 0 ? ivec2(0, 0) : corner == 1 || corner == 3 ? ivec2(1, 0)
            : corner == 2 || corner == 5 ? ivec2(0, 1) : ivec2(1, 1);
    vec2 p = vec2(c + d) / float(side);
    place = vec3(p * 2.0 - 1.0, 0.2 * sin(9.0 * p.x + shift) * cos(7.0 * p.y));
    gl_Position = vec4(place.xy, place.z, 1.0);
}
"""
)
GRID_COLOUR = (
    HEAD
    + """
in vec3 place; out vec4 colour;
void main() { colour = vec4(place * 0.5 + 0.5, 1.0); }
"""
)
LAND_POINTS = (
    HEAD
    + """
uniform int side; uniform float time; uniform float aspect; out vec3 place; out vec3 upright;
float height(vec2 p) {
    return 0.32 * sin(3.1 * p.x + 0.7 * p.y) + 0.21 * sin(5.3 * p.y - 1.9 * p.x)
         + 0.08 * sin(13.0 * p.x) * cos(11.0 * p.y);
}
void main() {
    int cell = gl_VertexID / 6, corner = gl_VertexID % 6;
    ivec2 c = ivec2(cell % side, cell / side);
    ivec2 d = corner == 0 ? ivec2(0, 0) : corner == 1 || corner == 3 ? ivec2(1, 0)
            : corner == 2 || corner == 5 ? ivec2(0, 1) : ivec2(1, 1);
    vec2 p = (vec2(c + d) / float(side) * 2.0 - 1.0) * 4.0;
    vec2 world = p + vec2(0.6 * time, 0.9 * time);
    float e = 0.02, h = height(world);
    upright = normalize(vec3(h - height(world + vec2(e, 0)), h - height(world + vec2(0, e)), e));
    place = vec3(world, h);
    vec3 eye = vec3(p.x, p.y + 4.2, h - 1.15);
    eye = vec3(eye.x, eye.y * 0.91 - eye.z * 0.42, eye.y * 0.42 + eye.z * 0.91);
    gl_Position = vec4(eye.x * 1.6 / aspect, eye.z * 1.6, (eye.y - 0.2) * 1.02 - 0.2, eye.y);
}
"""
)
LAND_COLOUR = (
    HEAD
    + """
in vec3 place; in vec3 upright; out vec4 colour; uniform sampler2D grain;
void main() {
    vec3 light = normalize(vec3(0.4, -0.3, 0.8));
    float lit = max(dot(normalize(upright), light), 0.0);
    vec3 rough = texture(grain, place.xy * 0.35).rgb * 0.5 + texture(grain, place.xy * 1.7).rgb * 0.5;
    vec3 ground = mix(vec3(0.24, 0.33, 0.22), vec3(0.62, 0.56, 0.47), smoothstep(-0.25, 0.4, place.z));
    colour = vec4(ground * (0.35 + 0.85 * lit) * (0.7 + 0.6 * rough), 1.0);
}
"""
)
MIST = (
    HEAD
    + """
in vec2 at; out vec4 colour; uniform sampler2D grain; uniform float time; uniform float layer;
void main() {
    float v = texture(grain, at * (0.4 + 0.15 * layer) + vec2(0.03 * time * (1.0 + layer), 0.0)).r;
    colour = vec4(vec3(0.78, 0.82, 0.86), 0.10 * smoothstep(0.3, 0.9, v));
}
"""
)
