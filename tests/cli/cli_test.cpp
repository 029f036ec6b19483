// SPDX-License-Identifier: GPL-3.0-or-later
// The commands in process, files in memory.
#include "cli/commands.h"

#include <set>

using namespace ohmo;
using namespace ohmo::test;
using nlohmann::json;

TEST_F(Cli, CheckExitCodes) {
    EXPECT_EQ(run({"check", "fresh"}).code, 0);
    const auto broken = run({"check", "broken"});
    EXPECT_EQ(broken.code, 1);
    EXPECT_NE(broken.err.find("line"), std::string::npos);
    EXPECT_EQ(run({"check", "missing"}).code, 3);
    EXPECT_EQ(run({"check"}).code, 2);
    EXPECT_EQ(run({"frobnicate"}).code, 2);
    EXPECT_EQ(run({"--help"}).code, 0);
}

TEST_F(Cli, JsonIsOneDocumentAlsoForProblems) {
    for (const auto& arguments : std::vector<std::vector<std::string>>{{"check", "broken", "--json"},
                                                                       {"rank", "broken", "--json"},
                                                                       {"next", "missing", "--json"},
                                                                       {"plan", "fresh", "--school", "odd", "--json"}}) {
        const auto a = run(arguments);
        EXPECT_NE(a.code, 0);
        ASSERT_FALSE(a.document().is_discarded()) << a.out;
        EXPECT_FALSE(a.document()["problems"].empty());
    }
}

TEST_F(Cli, RankHasTheContractsShape) {
    const auto d = run({"rank", "half", "--json"}).document();
    ASSERT_EQ(d["parts"].size(), demo_board().parts.size());
    for (const char* key : {"ref", "bad", "mode", "modes", "settled_cold"}) EXPECT_TRUE(d["parts"][0].contains(key)) << key;
    for (std::size_t i = 1; i < d["parts"].size(); ++i)
        EXPECT_GE(d["parts"][i - 1]["bad"].get<double>(), d["parts"][i]["bad"].get<double>());
    EXPECT_TRUE(d["stories"][0]["faults"][0]["root"].get<bool>());
    EXPECT_EQ(d["stories"][0]["faults"][0]["ref"], "C5");
    for (const char* key : {"supply_good", "unexplained", "contradicted_by"}) EXPECT_TRUE(d.contains(key)) << key;
}

TEST_F(Cli, NextHasTheContractsShape) {
    const auto d = run({"next", "half", "--json"}).document();
    EXPECT_TRUE(d.contains("stop") && d.contains("reason"));
    ASSERT_FALSE(d["next"].empty());
    for (const auto& n : d["next"]) {
        EXPECT_GT(n["minutes"].get<double>(), 0);
        if (n["do"] != "read") continue;
        for (const char* key : {"what", "from", "to", "powered", "state", "bits", "bands"}) EXPECT_TRUE(n.contains(key)) << key;
        EXPECT_EQ(n["powered"], "off"); // nothing live is offered while the locks hold
        EXPECT_TRUE(n["state"].contains("lift") && n["state"].contains("pull"));
    }
}

TEST_F(Cli, AssessIsRankAndNext) {
    const auto both = run({"assess", "half", "--json"}).document();
    EXPECT_EQ(both["rank"]["parts"].size(), demo_board().parts.size());
    EXPECT_EQ(both["next"], run({"next", "half", "--json"}).document());
}

TEST_F(Cli, PredictAnswersForPairsPartsAndFaults) {
    const auto healthy = run({"predict", "fresh", "--from", "SRC", "--to", "PGND", "--json"}).document();
    EXPECT_NEAR(healthy["value"].get<double>(), 0.33, 0.01);
    for (const char* key : {"lo", "hi", "over", "rising", "reversed", "junctions"}) EXPECT_TRUE(healthy.contains(key)) << key;
    EXPECT_TRUE(run({"predict", "fresh", "--part", "F1", "--fault", "F1:open", "--json"}).document()["value"].is_null());
    EXPECT_GT(run({"predict", "fresh", "--what", "esr", "--part", "C5", "--fault", "C5:dry", "--json"}).document()["value"].get<double>(),
              1.0);
    const auto lifted = run({"predict", "fresh", "--part", "R25", "--lift", "R25", "--json"}).document();
    EXPECT_NEAR(lifted["value"].get<double>(), 220, 1);
    const auto diode = run({"predict", "fresh", "--what", "diode", "--part", "Q1", "--pins", "S,D", "--json"}).document();
    EXPECT_GT(diode["value"].get<double>(), 0.3);
    EXPECT_LT(diode["value"].get<double>(), 0.8);
}

TEST_F(Cli, PredictTellsVoltsUnderPower) {
    const auto volts = [&](std::vector<std::string> more) {
        std::vector<std::string> all = {"predict", "fresh", "--what", "volts-dc", "--json"};
        all.insert(all.end(), more.begin(), more.end());
        return run(all).document();
    };
    const auto bulk = volts({"--from", "HV", "--to", "PGND"});
    EXPECT_LT(bulk["lo"].get<double>(), 325);
    EXPECT_GT(bulk["hi"].get<double>(), 310) << "the crest of 230 V, a little less at load";
    EXPECT_LT(volts({"--from", "HV", "--to", "PGND", "--fault", "F1:open"})["hi"].get<double>(), 20);
    EXPECT_NEAR(volts({"--from", "+24V", "--to", "0V", "--load", "idle"})["value"].get<double>(), 24, 1.2);
    EXPECT_LT(volts({"--from", "VCC", "--to", "PGND", "--fault", "U1:supply-short"})["hi"].get<double>(), 3);
    const auto line = run({"predict", "fresh", "--what", "volts-ac", "--from", "L", "--to", "N"});
    EXPECT_EQ(line.code, 0) << line.err;
    EXPECT_NE(line.out.find("V"), std::string::npos);
    EXPECT_EQ(run({"predict", "fresh", "--what", "volts-dc", "--from", "GATE", "--to", "PGND"}).code, 1) << "no sum tells";
    EXPECT_NE(run({"predict", "fresh", "--what", "volts-dc", "--from", "HV", "--to", "PGND", "--load", "much"}).code, 0);
}

TEST_F(Cli, PredictRefusesNonsense) {
    EXPECT_EQ(run({"predict", "fresh", "--from", "HV", "--to", "nowhere"}).code, 1);
    EXPECT_EQ(run({"predict", "fresh", "--part", "X1"}).code, 1);
    EXPECT_EQ(run({"predict", "fresh", "--part", "Q1", "--fault", "Q1:bulged"}).code, 1);
    EXPECT_NE(run({"predict", "fresh", "--from", "HV", "--to", "PGND", "--what", "vibes"}).code, 0);
}

TEST_F(Cli, PlanWithItsOwnStock) {
    disk.memory.files["s.csv"] = "id,kind,value,volts,amps,celsius,count,price\nMY-1,mosfet,800V 9A,800,9,,1,1.5\n";
    const auto d = run({"plan", "half", "--stock", "s.csv", "--json"}).document();
    bool mine = false;
    for (const auto& l : d["plan"]) mine = mine || (l["ref"] == "Q1" && l["choice"] == "MY-1");
    EXPECT_TRUE(mine);
    EXPECT_GT(d["to_order"].get<int>(), 2);
    EXPECT_EQ(run({"plan", "half", "--stock", "none.csv"}).code, 3);
    EXPECT_EQ(run({"plan", "half", "--school", "odd"}).code, 2);
}

TEST_F(Cli, PredictAnswersForAnyPlaceFaultAndState) {
    for (const char* what : {"ohms", "diode", "continuity", "farads", "esr", "leakage"}) {
        const auto a = run({"predict", "fresh", "--what", what, "--from", "HV", "--to", "PGND", "--fault", "Q1:ds-short", "--fault",
                            "C5:dry", "--lift", "R9", "--pull", "J2", "--json"});
        EXPECT_EQ(a.code, 0) << what << a.err;
        EXPECT_TRUE(a.document()["converged"].get<bool>()) << what;
    }
    const auto usual = run({"predict", "fresh", "--from", "AC1", "--to", "HV", "--json"}).document();
    const auto low = run({"predict", "fresh", "--from", "AC1", "--to", "HV", "--meter", "low-power", "--json"}).document();
    EXPECT_GT(low["value"].is_null() ? 2e7 : low["value"].get<double>(), 2 * usual["value"].get<double>()); // the bridge stays shut
    const auto residue =
        run({"predict", "fresh", "--what", "scope-residue", "--part", "C20", "--lift", "C20", "--fault", "C20:dry", "--json"});
    EXPECT_GT(residue.document()["value"].get<double>(), 0.003);
    EXPECT_EQ(run({"predict", "fresh", "--from", "HV", "--to", "PGND", "--meter", "mine"}).code, 1);
    EXPECT_EQ(run({"predict", "fresh", "--from", "HV", "--to", "PGND", "--fault", "Q1:bulged"}).code, 1);
}

TEST_F(Cli, SpiceWritesTheBoard) {
    const auto a = run({"spice", "fresh", "-o", "out.cir", "--fault", "Q1:ds-short", "--lift", "R9"});
    EXPECT_EQ(a.code, 0) << a.err;
    const std::string text = disk.memory.files["out.cir"];
    EXPECT_NE(text.find(".end"), std::string::npos);
    EXPECT_NE(text.find("NMOS"), std::string::npos);
    EXPECT_EQ(text.find("_R9 "), std::string::npos); // lifted
    EXPECT_NE(text.find("_Q1 "), std::string::npos);
    EXPECT_EQ(run({"spice", "fresh"}).code, 2);
    EXPECT_EQ(run({"spice", "missing", "-o", "x.cir"}).code, 3);
}

TEST_F(Cli, PowerupShowsTheLocks) {
    const auto d = run({"powerup", "half", "--json"}).document();
    EXPECT_TRUE(d["locked"].get<bool>());
    EXPECT_GT(d["steps"].size(), 8u);
    EXPECT_GT(d["discharge"]["joules"].get<double>(), 5);
    EXPECT_NE(run({"powerup", "half"}).out.find("competent person"), std::string::npos);
}

TEST_F(Cli, StoryStepByStep) {
    const auto d = run({"story", "half", "--json"}).document();
    ASSERT_GE(d["steps"].size(), 3u);
    EXPECT_EQ(d["steps"][0]["cause"], "root");
    for (std::size_t i = 1; i < d["steps"].size(); ++i)
        if (d["steps"][i]["cause"] != "independent" && d["steps"][i]["cause"] != "companion")
            EXPECT_GT(d["steps"][i]["limit"].get<double>(), 0);
    const auto& power = d["under_power"];
    // The fuse is open; whether a new one would blow hangs on how far the short goes round the open sense resistor.
    EXPECT_TRUE(power["running"] == "no-input" || power["running"] == "blows-fuse") << power.dump();
    EXPECT_EQ(power["rails"].size(), 3u);
    EXPECT_EQ(power["lamp"]["look"], power["running"] == "no-input" ? "dark" : "bright");
    const auto told = run({"story", "half"}).out;
    EXPECT_TRUE(told.find("If switched on as it is: Nothing gets in") != std::string::npos ||
                told.find("If switched on as it is: The fuse is open") != std::string::npos);
}

TEST_F(Cli, DecodeMarkings) {
    const auto a = run({"decode", "30C"});
    EXPECT_EQ(a.code, 0);
    EXPECT_NE(a.out.find("20 kΩ"), std::string::npos);
    EXPECT_EQ(run({"decode", "zzz"}).code, 1);
    EXPECT_EQ(run({"decode", "4K7", "--json"}).document().is_discarded(), false);
}

TEST_F(Cli, AMeterIsTaughtAndGivenToAJob) {
    const auto said =
        run({"meter", "bench", "--diode", "0.583", "--range", "600,220=221.4,diode=over", "--range", "6k,2k2=2k21,diode=5k6"});
    EXPECT_EQ(said.code, 0) << said.err;
    EXPECT_NE(said.out.find("83 µA"), std::string::npos) << said.out;
    EXPECT_EQ(run({"meter", "bench", "--range", "6k,2k2=3k3"}).code, 1);
    EXPECT_EQ(run({"meter", "bench", "--range", "6k,what"}).code, 1);
    EXPECT_EQ(run({"meter", "bench", "--diode", "half"}).code, 1);
    EXPECT_EQ(run({"meter"}).code, 2);
    const auto given = run({"meter", "bench", "--range", "6k,diode=5k6", "--job", "half", "--json"}).document();
    EXPECT_EQ(given["id"], "bench");
    EXPECT_EQ(run({"check", "half"}).code, 0);
    EXPECT_NE(disk.memory.files["half"].find("\"usual\":true"), std::string::npos);
    EXPECT_EQ(run({"meter", "bench", "--range", "6k,diode=5k6", "--job", "none"}).code, 3);
}

TEST_F(Cli, DecodeTakesSeveralMarkings) {
    const auto a = run({"decode", "30C", "4K7", "zzz"});
    EXPECT_EQ(a.code, 1); // the last one
    EXPECT_NE(a.err.find("zzz"), std::string::npos);
    EXPECT_NE(a.out.find("30C\n  20 kΩ"), std::string::npos) << a.out;
    EXPECT_NE(a.out.find("4K7\n  4.7 kΩ"), std::string::npos) << a.out;
    const auto both = run({"decode", "30C", "4K7", "--json"}).document();
    ASSERT_EQ(both.size(), 2u);
    EXPECT_EQ(both[0]["marking"], "30C");
    EXPECT_EQ(both[1]["marking"], "4K7");
    // A marking of several words is still one, also among others.
    EXPECT_EQ(run({"decode", "472", "104", "107", "16V", "--json"}).document().back()["marking"], "107 16V");
    const auto words = run({"decode", "472", "yellow", "violet", "red", "gold", "T3.15A", "250V", "--json"}).document();
    std::set<std::string> markings;
    for (const auto& m : words) markings.insert(m["marking"].get<std::string>());
    EXPECT_EQ(markings, (std::set<std::string>{"472", "yellow violet red gold", "T3.15A 250V"}));
}

TEST_F(Cli, PowerupSaysStop) {
    Job job = demo("rb6-half-way");
    for (const char* ref : {"Q1", "C5", "R9", "F1", "U1", "R8", "R11", "RT1", "BR1"})
        job = job.with(act(Do::Replace, ref)).with(proved(ref));
    for (const char* step : {"controller-elv", "rails-back-fed"}) {
        Entry e;
        e.act = Do::PowerStep;
        e.step = step;
        e.saw = "passed";
        job = job.with(e);
    }
    Entry high = read("volts-dc", "+24V", "0V", 31);
    high.powered = "mains";
    disk.memory.files["live"] = job.with(high).text();
    const auto told = run({"powerup", "live", "--json"}).document();
    EXPECT_TRUE(told["must_stop"].get<bool>());
    ASSERT_EQ(told["live"].size(), 1u);
    EXPECT_EQ(told["live"][0]["where"], "+24V");
    EXPECT_EQ(told["live"][0]["read"], 31);
    EXPECT_TRUE(told["live"][0]["outside"].get<bool>());
    EXPECT_NE(run({"powerup", "live"}).out.find("STOP"), std::string::npos);
    high.value = 24.1;
    disk.memory.files["live"] = job.with(high).text();
    EXPECT_FALSE(run({"powerup", "live", "--json"}).document()["must_stop"].get<bool>());
    EXPECT_EQ(run({"powerup", "live"}).out.find("STOP"), std::string::npos);
}

TEST_F(Cli, PracticeListsEveryFigure) {
    const auto all = run({"practice", "--json"}).document();
    EXPECT_EQ(all["figures"].size(), shipped_practice_file().figures.size());
    for (const auto& f : all["figures"]) EXPECT_FALSE(f["source"].get<std::string>().empty()) << f["name"];
    const auto text = run({"practice"});
    EXPECT_EQ(text.code, 0);
    EXPECT_NE(text.out.find("model-doubt"), std::string::npos);
    EXPECT_NE(text.out.find("temperature"), std::string::npos);
}

TEST_F(Cli, PracticePageIsMadeFromTheFile) { // docs/practice.md: made anew by `ohmo practice --markdown > docs/practice.md`
    const auto page = RealDisk().read(data().parent_path() / "docs" / "practice.md", 1u << 20);
    ASSERT_TRUE(page);
    EXPECT_EQ(*page, run({"practice", "--markdown"}).out);
}

TEST_F(Cli, AnEditedFigureChangesTheAnswer) {
    const auto path = (data() / "practice.json").string();
    disk.memory.files[path] =
        R"({"ohmotrace-practice": 1, "groups": [{"group": "mine", "figures": [{"name": "short-ohms", "value": 5}]}]})";
    const auto five = run({"predict", "fresh", "--what", "ohms", "--part", "C16", "--fault", "C16:short", "--json"}, true).document();
    disk.memory.files.erase(path);
    const auto shipped = run({"predict", "fresh", "--what", "ohms", "--part", "C16", "--fault", "C16:short", "--json"}, true).document();
    EXPECT_NEAR(shipped["value"].get<double>(), shipped_practice().short_ohms, 0.03);
    EXPECT_NEAR(five["value"].get<double>(), 5, 0.2);
    disk.memory.files[path] =
        R"({"ohmotrace-practice": 1, "groups": [{"group": "mine", "figures": [{"name": "working-volts", "value": 50}]}]})";
    const auto refused = run({"rank", "fresh"}, true);
    EXPECT_EQ(refused.code, 1);
    EXPECT_NE(refused.err.find("safety limit"), std::string::npos) << refused.err;
}

TEST_F(Cli, ReportIsWrittenWhole) {
    EXPECT_EQ(run({"report", "half", "-o", "r.html"}).code, 0);
    EXPECT_NE(disk.memory.files["r.html"].find("It certifies nothing"), std::string::npos);
    EXPECT_EQ(run({"report", "half", "-o", "r.md"}).code, 0);
    EXPECT_EQ(disk.memory.files["r.md"].rfind("# Quillmere", 0), 0u);
    EXPECT_EQ(run({"report", "half", "-o", "r.doc"}).code, 2);
    disk.memory.full = true;
    EXPECT_EQ(run({"report", "half", "-o", "r.html"}).code, 3);
}

TEST_F(Cli, SameJobSameBytes) { EXPECT_EQ(run({"assess", "half", "--json"}).out, run({"assess", "half", "--json"}).out); }

TEST_F(Cli, TablesForPeople) {
    EXPECT_NE(run({"rank", "half"}).out.find("C5"), std::string::npos);
    EXPECT_NE(run({"next", "half"}).out.find("bit"), std::string::npos);
    EXPECT_NE(run({"plan", "half"}).out.find("goes with Q1"), std::string::npos);
}

TEST_F(Cli, LogTakesLinesAllOrNone) {
    const auto before = disk.memory.files["fresh"];
    const auto wrong = run({"log", "fresh", "dead", "C5 ohm what"});
    EXPECT_EQ(wrong.code, 1);
    EXPECT_NE(wrong.err.find("line 2"), std::string::npos) << wrong.err;
    EXPECT_EQ(disk.memory.files["fresh"], before);
    EXPECT_EQ(run({"log", "fresh", "dead", "F1 open"}).code, 0);
    EXPECT_EQ(run({"log", "fresh", "-"}, false, "# what was traced\n= R20 1k2\n\n+ R99 4k7 HV\n").code, 0);
    const auto loaded = reader().parse(disk.memory.files["fresh"]);
    ASSERT_TRUE(loaded);
    EXPECT_EQ(loaded->job.journal.size(), reader().parse(before)->job.journal.size() + 4);
    EXPECT_EQ(run({"log", "missing", "dead"}).code, 3);
    EXPECT_EQ(run({"log", "fresh"}).code, 2);
    EXPECT_EQ(run({"log", "fresh", "fuse-blows", "--json"}).document()["understood"].size(), 1u);
}

TEST_F(Cli, BoardsComeInAndGoOut) {
    EXPECT_EQ(run({"export", "half", "-o", "half.cir"}).code, 0);
    const auto in = run({"import", "half.cir", "-o", "again.ohmo.json", "--json"}).document();
    EXPECT_EQ(in["parts"], demo_board().parts.size());
    EXPECT_TRUE(in["ignored"].empty());
    EXPECT_EQ(run({"check", "again.ohmo.json"}).code, 0);
    EXPECT_EQ(run({"import", "half.cir", "-o", "again.ohmo.json"}).code, 3); // never over a job that is there
    disk.memory.files["list.csv"] = "ref,value,1,2,footprint\nR1,4k7,A,B,0805\n";
    const auto list = run({"import", "list.csv", "-o", "list.ohmo.json"});
    EXPECT_EQ(list.code, 0);
    EXPECT_NE(list.out.find("footprint"), std::string::npos);
    EXPECT_EQ(run({"import", "half", "-o", "x"}).code, 1); // neither netlist nor list
    EXPECT_EQ(run({"export", "half", "-o", "half.doc"}).code, 1);
    EXPECT_EQ(run({"import", "nothing.cir", "-o", "x"}).code, 3);
}

TEST_F(Cli, NewListsAndStartsFromABlueprint) {
    const auto listed = run({"new", "--json"}).document();
    ASSERT_EQ(listed["blueprints"].size(), 13u); // twelve families and an empty board
    for (const auto& b : listed["blueprints"]) {
        EXPECT_FALSE(b["title"].get<std::string>().empty());
        EXPECT_FALSE(b["recognise"].get<std::string>().empty()) << b["blueprint"];
        const std::string file = "new-" + b["blueprint"].get<std::string>();
        EXPECT_EQ(run({"new", "--blueprint", b["blueprint"], "-o", file}).code, 0);
        EXPECT_EQ(run({"check", file}).code, 0) << file;
    }
    const auto odd = run({"new", "--blueprint", "steam", "-o", "x"});
    EXPECT_EQ(odd.code, 2);
    EXPECT_NE(odd.err.find("flyback"), std::string::npos); // says which there are
    EXPECT_EQ(run({"new", "--blueprint", "buck"}).code, 2);
    const auto before = disk.memory.files["fresh"];
    EXPECT_EQ(run({"new", "--blueprint", "buck", "-o", "fresh"}).code, 3); // never over a job that is there
    EXPECT_EQ(disk.memory.files["fresh"], before);
}

TEST_F(Cli, NewFitsTheBlueprintToWhatOneSees) {
    const auto made = run({"new", "--blueprint", "flyback", "--feed", "120V 60Hz", "--rail", "12V 3A", "--rail", "5V 0.3A from 12V",
                           "--with", "inrush=resistor", "--with", "standby", "--without", "pi-filter", "--sums", "-o", "fitted", "--json"});
    ASSERT_EQ(made.code, 0) << made.err;
    EXPECT_GT(made.document()["sums"].size(), 20u);
    const auto board = json::parse(disk.memory.files.at("fitted"))["board"];
    EXPECT_EQ(board["mains"]["volts"], 120);
    EXPECT_EQ(board["rails"].size(), 3u); // and the standby's
    std::set<std::string> refs;
    for (const auto& p : board["parts"]) refs.insert(p["ref"].get<std::string>());
    EXPECT_TRUE(refs.contains("inrush-resistor") && refs.contains("5V-regulator") && refs.contains("standby-transformer"));
    EXPECT_FALSE(refs.contains("12V-filter-inductor"));
    EXPECT_EQ(run({"check", "fitted"}).code, 0);
    EXPECT_NE(run({"new", "--blueprint", "linear", "--sums"}).out.find("reservoir"), std::string::npos); // the sums alone, no file
    const auto refused = [&](std::initializer_list<const char*> what, const char* said) {
        std::vector<std::string> line = {"new", "--blueprint", "adapter", "-o", "refused"};
        line.insert(line.end(), what.begin(), what.end());
        const auto answer = run(line);
        EXPECT_EQ(answer.code, 1) << said;
        EXPECT_NE(answer.err.find(said), std::string::npos) << answer.err;
    };
    refused({"--feed", "24V DC"}, "mains");
    refused({"--rail", "twelve"}, "12V 3A");
    refused({"--with", "crumple-zone"}, "surge-absorber");
    refused({"--with", "over-voltage=bang"}, "clamp");
    EXPECT_FALSE(disk.memory.files.contains("refused"));
    EXPECT_EQ(run({"new", "--blueprint", "blank", "--rail", "5V 1A", "-o", "refused"}).code, 2);
}

TEST_F(Cli, NextNamesWhatIsWorthTracingOnABlueprint) {
    ASSERT_EQ(run({"new", "--blueprint", "flyback", "-o", "assumed"}).code, 0);
    auto job = json::parse(disk.memory.files.at("assumed"));
    job["journal"] = json::parse(R"([{"at": "2026-03-02T09:00:00Z", "do": "symptom", "saw": "dead"},
                                     {"at": "2026-03-02T09:01:00Z", "do": "discharge", "value": 0.2}])");
    disk.memory.files["assumed"] = job.dump();
    const auto told = run({"next", "assumed", "--json"}).document();
    ASSERT_TRUE(told.contains("trace")) << told.dump();
    EXPECT_FALSE(told["trace"]["differs"].get<bool>());
    EXPECT_GT(told["trace"]["bits"].get<double>(), 0);
    EXPECT_NE(run({"next", "assumed"}).out.find("Worth tracing"), std::string::npos);
    EXPECT_FALSE(run({"next", "fresh", "--json"}).document().contains("trace"));
}
