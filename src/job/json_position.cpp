// SPDX-License-Identifier: GPL-3.0-or-later
// Finds the line of a JSON pointer by walking the text once. The text has already been parsed, so it is well formed.
#include "base/text.h"
#include "job/job.h"

namespace ohmo {
namespace {

class Walker {
public:
    Walker(const std::string& text, const std::vector<std::string>& path) : m_text(text), m_path(path) {}

    int find() {
        value(0, true);
        return m_best;
    }

private:
    void blank() {
        while (m_at < m_text.size() && (m_text[m_at] == ' ' || m_text[m_at] == '\t' || m_text[m_at] == '\r' || m_text[m_at] == '\n')) {
            if (m_text[m_at] == '\n') ++m_line;
            ++m_at;
        }
    }

    std::string string() {
        std::string out;
        ++m_at; // opening quote
        while (m_at < m_text.size() && m_text[m_at] != '"') {
            if (m_text[m_at] == '\\') ++m_at;
            if (m_at < m_text.size()) out += m_text[m_at++];
        }
        ++m_at;
        return out;
    }

    // `depth` steps of the path matched so far; `on_path` false: only skip.
    void value(std::size_t depth, bool on_path) {
        blank();
        if (on_path) m_best = m_line;
        if (m_at >= m_text.size() || (on_path && depth == m_path.size())) {
            if (on_path) m_done = true;
            if (m_done) return;
        }
        const char c = m_text[m_at];
        if (c == '{' || c == '[') return container(depth, on_path, c == '{');
        if (c == '"') {
            string();
            return;
        }
        while (m_at < m_text.size() && std::string_view(",]} \t\r\n").find(m_text[m_at]) == std::string_view::npos) ++m_at;
    }

    void container(std::size_t depth, bool on_path, bool object) {
        ++m_at;
        for (std::size_t index = 0;; ++index) {
            blank();
            if (m_at >= m_text.size()) return;
            if (m_text[m_at] == '}' || m_text[m_at] == ']') {
                ++m_at;
                return;
            }
            if (m_text[m_at] == ',') {
                ++m_at;
                blank();
            }
            std::string key = object && m_at < m_text.size() && m_text[m_at] == '"' ? string() : std::to_string(index);
            if (object) {
                blank();
                ++m_at; // colon
            }
            value(depth + 1, on_path && depth < m_path.size() && key == m_path[depth]);
            if (m_done) return;
        }
    }

    const std::string& m_text;
    const std::vector<std::string>& m_path;
    std::size_t m_at = 0;
    int m_line = 1, m_best = 1;
    bool m_done = false;
};

} // namespace

int line_of_pointer(const std::string& text, const std::string& pointer) {
    std::vector<std::string> path;
    if (!pointer.empty())
        for (auto& step : split(std::string_view(pointer).substr(1), '/')) path.push_back(replaced(replaced(step, "~1", "/"), "~0", "~"));
    // Pin roles such as ~1 stand unescaped in our own pointers; try both.
    int line = Walker(text, path).find();
    if (pointer.find('~') != std::string::npos) line = std::max(line, Walker(text, split(std::string_view(pointer).substr(1), '/')).find());
    return line;
}

} // namespace ohmo
