// SPDX-License-Identifier: GPL-3.0-or-later
#include "job/photos.h"

#include <algorithm>
#include <complex>

namespace ohmo {

namespace {

Entry added(const std::string& file, const char* saw, const std::string& part) {
    Entry e;
    e.act = Do::Photo;
    e.what = "added";
    e.ref = file;
    e.saw = saw;
    e.part = part;
    return e;
}

} // namespace

Entry board_picture(const std::string& file, bool back) { return added(file, back ? "back" : "front", {}); }
Entry part_picture(const std::string& file, const std::string& part) { return added(file, "part", part); }

void take_photo(const Entry& e, std::vector<BoardPhoto>& photos, std::vector<PartPicture>& of_parts) {
    if (e.what == "added" && e.saw == "part") {
        if (const PartPicture made{e.ref, e.part}; std::find(of_parts.begin(), of_parts.end(), made) == of_parts.end())
            of_parts.push_back(made);
        return;
    }
    if (e.what == "gone") std::erase_if(of_parts, [&](const PartPicture& p) { return p.file == e.ref; });
    const auto found = std::find_if(photos.begin(), photos.end(), [&](const BoardPhoto& p) { return p.file == e.ref; });
    if (e.what == "added" && found == photos.end()) photos.push_back({e.ref, e.saw == "back", {}});
    if (found == photos.end()) return;
    if (e.what == "gone") photos.erase(found);
    if (e.what == "mark" && e.x && e.y) found->marks[{e.part, e.pin}] = {*e.x, *e.y};
}

PhotoSpot PhotoAlignment::back_of(const PhotoSpot& front) const {
    const auto z = std::complex(a, b) * std::conj(std::complex(front.x, front.y)) + std::complex(x, y);
    return {z.real(), z.imag()};
}

PhotoSpot PhotoAlignment::front_of(const PhotoSpot& back) const {
    const auto z = std::conj((std::complex(back.x, back.y) - std::complex(x, y)) / std::complex(a, b));
    return {z.real(), z.imag()};
}

std::optional<PhotoAlignment> align(const PhotoMarks& front, const PhotoMarks& back) {
    std::vector<std::pair<std::complex<double>, std::complex<double>>> both; // mirrored front, back
    for (const auto& [pin, spot] : front)
        if (const auto other = back.find(pin); other != back.end())
            both.push_back({std::conj(std::complex(spot.x, spot.y)), std::complex(other->second.x, other->second.y)});
    if (both.size() < 2) return std::nullopt;
    std::complex<double> from, to;
    for (const auto& [f, t] : both) {
        from += f;
        to += t;
    }
    from /= static_cast<double>(both.size());
    to /= static_cast<double>(both.size());
    std::complex<double> shared;
    double spread = 0;
    for (const auto& [f, t] : both) {
        shared += std::conj(f - from) * (t - to);
        spread += std::norm(f - from);
    }
    if (spread < 1e-9) return std::nullopt; // one on top of the other
    const auto turn = shared / spread, shift = to - turn * from;
    return PhotoAlignment{turn.real(), turn.imag(), shift.real(), shift.imag()};
}

DerivedMarks marks_of(const std::vector<BoardPhoto>& photos, std::size_t index) {
    const auto& photo = photos[index];
    DerivedMarks out{photo.marks, {}};
    for (const auto& other : photos) {
        if (other.back == photo.back) continue;
        const auto fit = photo.back ? align(other.marks, photo.marks) : align(photo.marks, other.marks);
        if (!fit) continue;
        for (const auto& [pin, spot] : other.marks)
            if (!photo.marks.contains(pin)) out.derived[pin] = photo.back ? fit->back_of(spot) : fit->front_of(spot);
    }
    return out;
}

} // namespace ohmo
