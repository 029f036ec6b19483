// SPDX-License-Identifier: GPL-3.0-or-later
#include "job/meters_file.h"

#include "job/read_json.h"

namespace ohmo {

nlohmann::ordered_json meter_document(const MeterProfile& meter) { return detail::write_meter(meter); }

std::string meter_text(const MeterProfile& meter) { return meter_document(meter).dump(); }

Result<MeterProfile> meter_of_text(const std::string& text) {
    const auto json = detail::Json::parse(text, nullptr, false);
    if (json.is_discarded() || !json.is_object()) return Problem{ProblemKind::JsonBroken, "meter", {}, {}, 0, false};
    Problems problems;
    auto meters = detail::read_meters(detail::Json::array({json}), problems);
    if (has_errors(problems) || meters.empty()) return problems;
    return std::move(meters.front());
}

} // namespace ohmo
