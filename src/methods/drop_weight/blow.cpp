// SPDX-License-Identifier: GPL-3.0-or-later
// Force over time of a blow: contact, speed, way, energy.
#include "methods/drop_weight/figures.h"

#include "curve/record_faults.h"
#include "curve/signal.h"
#include "methods/drop_weight/contact.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

const std::vector<std::string> integrated{"d_at_max", "E_at_max", "E_a"};

/// Time that can be counted on, evenly spaced; false: said why not.
bool checkClock(Figures& f, ForceOver& data)
{
    const size_t n = data.x.size();
    const auto disorder = findTimeDisorder(data.x);
    const double step = (data.x.back() - data.x.front()) / static_cast<double>(n - 1);
    if (disorder || !(step > 0)) {
        f.remark("time-disorder", Severity::Reject, forceResults(),
                 fmt::format("The time runs back, stands or leaps at row {}.", disorder ? disorder->at + 1 : 1),
                 "Look at the record: two blows in one file?");
        return false;
    }
    double worst = 0;
    for (size_t i = 0; i < n; ++i)
        worst = std::max(worst, std::abs(data.x[i] - data.x.front() - step * static_cast<double>(i)));
    if (worst > 2 * step)
        f.remark("time-uneven", Severity::Caution, forceResults(),
                 fmt::format("The readings are not evenly spaced: up to {:.3g} ms off.", 1000 * worst),
                 "Export the record at its own rate.");
    constexpr double slowest = 1.0 / 40000; // s a reading; 50 kHz and more are asked for
    if (step > slowest)
        f.remark("sampling-coarse", Severity::Caution, forceResults(),
                 fmt::format("{:.3g} readings a millisecond; 50 and more are wanted.", 0.001 / step),
                 "Record at 50 to 200 kHz.");
    return true;
}

/// What the cell shows before the contact.
void takeZero(Figures& f, ForceOver& data)
{
    const Extremes ends = extremesOf(data.force);
    const QuietStart quiet = findQuietStart(data.force, noiseOf(data.force), ends.greatest);
    if (quiet.quiet < 10) {
        f.remark("no-quiet-start", Severity::Caution, forceResults(),
                 "The record starts in the contact: its zero and its start can't be seen.",
                 "Set the trigger so that a millisecond before the contact is kept.");
        return;
    }
    // Hanging free nothing touches the striker: what is left is a zero error.
    if (optionOr(f.input, "force_zero", "auto") == "none")
        return;
    const double noise = quiet.scatter / std::sqrt(static_cast<double>(quiet.quiet));
    if (std::abs(quiet.level) <= 3 * noise)
        return;
    for (double& F : data.force)
        F -= quiet.level;
    remarkZero(f, quiet.level, quiet.top, "the contact");
}

Term forceTerm(const Figures& f, const std::string& symbol, double value, double doubt, const std::string& words,
               const std::string& rule)
{
    const Unit& N = baseUnit(Kind::Force);
    return (Term::leaf("F", value, N, doubt, {"ringing and noise", SourceKind::Noise}, words) * forceDoubt(f.input))
        .named(symbol, N, words, rule, 4);
}

/// "without its ringing of 0.24 ms (6.1 % of it), by a fit over 0.49 ms"
std::string ringingWords(const Contact& c)
{
    if (!c.ringing)
        return fmt::format("no ringing stands out of the noise; a parabola over {:.2f} ms", 1000 * c.window);
    return fmt::format("without its ringing of {:.3f} ms ({:.1f} % there), fitted with a parabola over {:.2f} ms",
                       1000 * *c.ringing, 100 * c.ringingSize / c.peak, 1000 * c.window);
}

void loads(Figures& f, const Contact& c)
{
    const bool raw = optionOr(f.input, "peak", "smooth") == "raw";
    f.set("F_max",
          forceTerm(f, "F_max", raw ? c.raw : c.peak, raw ? c.noise : std::max(c.peakDoubt, c.noise / 10),
                    raw ? "highest reading" : "greatest contact force, " + ringingWords(c), "ASTM D7136"));
    constexpr double rough = 0.005; // of the peak
    if (!raw && c.peakDoubt > rough * c.peak)
        f.remark("peak-doubtful", Severity::Caution, {"F_max"},
                 fmt::format("Ringing and noise leave the peak open by ± {:.1f} %.", 200 * c.peakDoubt / c.peak),
                 "Record faster, or see to the striker's mounting.");
    if (c.otherTop)
        f.remark("two-tops", Severity::Caution, {"d_at_max", "E_at_max"},
                 fmt::format("Two tops are as high as each other, {:.2f} ms apart: deflection and energy are those of "
                             "the one at {:.2f} ms.",
                             1000 * std::abs(*c.otherTop - c.peakTime), 1000 * (c.peakTime - c.start)),
                 "Look at the curve.");
    const SuddenLoss* first = nullptr;
    const SuddenLoss* doubtful = nullptr;
    for (const SuddenLoss& loss : c.losses)
        if (loss.sure) {
            first = &loss;
            break;
        } else if (!doubtful) {
            doubtful = &loss;
        }
    if (first)
        f.set("F_1",
              forceTerm(f, "F_1", first->top, std::max(first->doubt, c.noise / 10),
                        fmt::format("force before the first sudden loss, of {:.0f} %", 100 * first->fall / first->top),
                        "a fall of 8 % within 0.1 ms that the ringing does not make up"));
    if (doubtful)
        f.remark("first-damage-doubtful", Severity::Caution, {"F_1"},
                 fmt::format("A fall of {:.0f} % at {} {}.", 100 * doubtful->fall / doubtful->top,
                             formatQuantity(doubtful->top, baseUnit(Kind::Force), 3),
                             doubtful->fall < lossShare * doubtful->top
                                 ? "is under the 8 % of a sudden loss, and may be damage all the same"
                                 : "may be damage, or ringing: the record does not tell"),
                 "Look at the curve there.");
    const auto clearness = [](const SuddenLoss& loss) { return loss.fall / std::max(loss.fallDoubt, 1e-9); };
    const auto clearest = std::ranges::max_element(c.losses, {}, clearness);
    constexpr double faint = 12, clearer = 4;
    if (first && clearness(*first) < faint && clearness(*clearest) > clearer * clearness(*first))
        f.remark("first-damage-doubtful", Severity::Caution, {"F_1"},
                 fmt::format("The loss at {} is far less clear than that at {}: ringing may look like it.",
                             formatQuantity(first->top, baseUnit(Kind::Force), 3),
                             formatQuantity(clearest->top, baseUnit(Kind::Force), 3)),
                 "Look at the curve there.");
    constexpr double hides = 0.12; // a fall of the readings
    if (!first && !doubtful && c.deepestFall > hides)
        f.remark("first-damage-hidden", Severity::Caution, {"F_1"},
                 fmt::format("The readings fall by up to {:.0f} %, all of it put down to ringing: a sudden loss can "
                             "hide in that.",
                             100 * c.deepestFall),
                 "Look at the curve; record faster, or see to the striker's mounting.");
    else if (!first && !doubtful)
        f.notApplicable({"F_1"}, "No sudden loss of 8 % is seen: the plate took the blow without one.");
    constexpr double loose = 0.05; // expanded
    if (first && 2 * first->doubt > loose * first->top)
        f.remark("first-damage-rough", Severity::Caution, {"F_1"},
                 fmt::format("Ringing and noise leave the first damage load open by ± {:.0f} %.",
                             200 * first->doubt / first->top),
                 "Record faster, or see to the striker's mounting.");
}

/// What a force, speed or mass off by its own doubt would make of a figure.
Term integralTerm(const std::string& symbol, const Unit& unit, double value, double byForce, double bySpeed,
                  double speedDoubt, const Figures& f, const std::string& words, const std::string& rule)
{
    const double cell = f.input.instruments.forceError / rectangle;
    const Term main = Term::leaf(symbol, value, unit, std::abs(byForce) * cell,
                                 {f.input.instruments.forceName, SourceKind::Cell}, words);
    const Term speed = Term::leaf("", 0, unit, std::abs(bySpeed) * speedDoubt, {"speed at the contact"});
    return (main + speed).named(symbol, unit, words, rule, 4);
}

void drawBlow(Figures& f, const Contact& c, const Flight* flight, std::span<const double> time,
              std::span<const double> force)
{
    CurveView view;
    view.xAxis = {"time", Kind::Time};
    view.yAxis = {"force", Kind::Force};
    const auto lead = std::min<size_t>(c.first, std::max<size_t>(5, (c.last - c.first) / 8));
    const auto tail = std::min(force.size() - 1 - c.last, std::max<size_t>(5, (c.last - c.first) / 6));
    for (size_t i = c.first - lead; i <= c.last + tail; ++i) {
        view.x.push_back(time[i] - c.start);
        view.y.push_back(force[i]);
    }
    view.label = "as recorded";
    SecondCurve quiet{.line = true, .label = "without ringing"};
    for (size_t i = 0; i < c.smooth.size(); ++i) {
        quiet.x.push_back(time[c.first + i] - c.start);
        quiet.y.push_back(c.smooth[i]);
    }
    view.second = std::move(quiet);
    const auto first = std::ranges::find(c.losses, true, &SuddenLoss::sure);
    if (f.has("F_1") && first != c.losses.end())
        view.marks.push_back({"F_1", "F_1", time[first->last] - c.start, first->top, {}});
    view.marks.push_back({"F_max", "F_max", c.peakTime - c.start, *f.value("F_max"), {}});
    if (c.end)
        view.marks.push_back({"t_contact", "end", *c.end - c.start, 0, {}, false, {}, CurveMark::Side::Above});
    f.outcome.views.emplace_back(std::move(view));
    if (!flight)
        return;
    CurveView over;
    over.xAxis = {"deflection", Kind::Length};
    over.yAxis = {"force", Kind::Force};
    over.x = flight->way;
    over.y = flight->force;
    over.marks.push_back({"d_at_max", "F_max", flight->at(flight->way, c.peakTime), *f.value("F_max"), {}});
    f.outcome.views.emplace_back(std::move(over));
    CurveView given;
    given.xAxis = {"time", Kind::Time};
    given.yAxis = {"energy", Kind::Energy};
    given.y = flight->energy;
    for (const double t : flight->time)
        given.x.push_back(t - c.start);
    given.marks.push_back({"E_at_max", "at F_max", c.peakTime - c.start, flight->at(flight->energy, c.peakTime), {}});
    if (f.has("E_a"))
        given.marks.push_back({"E_a", "absorbed", given.x.back(), given.y.back(), {}});
    f.outcome.views.emplace_back(std::move(given));
}

/// Whether the flight can have been so: a striker does not come back faster than it fell.
void checkFlight(Figures& f, const Flight& flight, double mass, double speed, bool ended)
{
    const double last = flight.speed.back(), absorbed = flight.energy.back();
    const double carried = 0.5 * mass * speed * speed;
    constexpr double pounds = 2.2046226218;
    // The change of speed is what the force gives, whatever the mass: m·(v − v_end) + m·g·t.
    const double change = speed - last;
    const auto sound = [&](double factor) { // whether a mass off by that factor would make sense
        const double end = (speed - change * factor) / speed;
        return end < 0 && end > -1;
    };
    constexpr double playful = 0.02;
    if (ended && (last < -(1 + playful) * speed || absorbed < -playful * carried))
        f.remark("rebound-faster", Severity::Reject, {"v_i", "E_i", "d_at_max", "E_at_max", "E_a"},
                 fmt::format("By this mass and speed the striker would come back at {:.2f} m/s, faster than it fell at "
                             "{:.2f} m/s.",
                             -last, speed),
                 sound(1 / pounds) ? "Is the mass in pounds, and larger in kilograms than stated? Or the force in "
                                     "another unit?"
                                   : "Look at mass, speed, and the unit of the force.",
                 "mass");
    else if (ended && last > playful * speed)
        f.remark("not-stopped", Severity::Caution, {"d_at_max", "E_at_max", "E_a"},
                 fmt::format("By this mass and speed the striker still goes down at {:.2f} m/s when the force ends.",
                             last),
                 sound(pounds) ? "Is the mass in pounds, taken for kilograms? Else the plate was pierced."
                               : "A pierced plate; else look at mass, speed, and the unit of the force.",
                 "mass");
}

} // namespace

Expected<Done> readBlow(Figures& f, const DropPlan& plan)
{
    const Channel* time = f.input.record->find("time");
    if (!time) {
        f.remark("no-time", Severity::Reject, forceResults(), "The record has no time: nothing can be integrated.",
                 "Import the time column with its unit.");
        return Done{};
    }
    auto read = forceOver(f, *time, forceResults());
    if (!read)
        return read.problem();
    ForceOver& data = *read;
    if (!checkClock(f, data))
        return Done{};
    takeZero(f, data);
    const auto contact = findContact(data.x, data.force);
    const auto at = contactSpeed(f, plan, contact ? std::optional(contact->start) : std::nullopt);
    if (!at)
        return at.problem();
    if (!contact) {
        f.remark("no-contact", Severity::Reject, forceResults(),
                 "No force stands clear of the noise: no contact is seen.", "Is it the right channel?");
        return Done{};
    }
    const Contact& c = *contact;
    if (const auto clipped = findClipped(data.force, [&] { return data.x; }))
        f.remark("force-clipped", Severity::Reject, {"F_max", "d_at_max", "E_at_max", "E_a"},
                 fmt::format("The force stands at {} for {} readings: the cell or its amplifier was full.",
                             formatQuantity(data.force[clipped->begin], baseUnit(Kind::Force), 4),
                             clipped->end - clipped->begin),
                 "Choose a larger range.");
    loads(f, c);
    if (c.second)
        f.remark("second-strike", Severity::Reject, {},
                 fmt::format("The striker hit twice: force again {:.2f} ms {} the contact.",
                             1000 * std::abs(*c.second - (*c.second > c.start ? c.end.value_or(c.start) : c.start)),
                             *c.second > c.start ? "after" : "before"),
                 "The catcher must hold the rebound; the damage is that of two blows.");
    const Unit& ms = *findUnit("ms");
    if (c.end)
        f.set("t_contact",
              Term::leaf("t", *c.end - c.start, ms, (data.x[1] - data.x[0]) / rectangle,
                         {"readings apart", SourceKind::Rate}, "from the start of the contact to its end")
                  .named("t_contact", ms, "time in contact", "power laws through both feet", 4));
    else
        f.remark("record-ends-early", Severity::Reject, {"E_a", "t_contact"},
                 fmt::format("The record ends with {} still on the plate.",
                             formatQuantity(data.force.back(), baseUnit(Kind::Force), 3)),
                 "Record until the striker has left the plate.");
    if (!at->speed || !at->mass) {
        f.sayMissing({"v_i", "E_i", "d_at_max", "E_at_max", "E_a"}, "speed-unknown",
                     !at->mass ? "The drop mass is not stated." : "Neither height nor speed of the blow are known.",
                     "State mass and height, or the speed, on Plan.", !at->mass ? "mass" : "height");
        drawBlow(f, c, nullptr, data.x, data.force);
        return Done{};
    }
    const double mass = at->mass->value(), v = at->speed->value() / 1000;
    f.set("v_i", *at->speed);
    const Unit& J = baseUnit(Kind::Energy);
    f.set("E_i",
          (*at->mass * square(*at->speed) / Term::constant(2e6, "2"))
              .named("E_i", J, "energy at the contact", "½·m·v²", 4));
    const Flight flight = integrateFlight(data.x, data.force, c, mass, v);
    std::vector<double> stronger = data.force;
    constexpr double more = 0.01;
    for (double& F : stronger)
        F *= 1 + more;
    const Flight byForce = integrateFlight(data.x, stronger, c, mass, v);
    const Flight bySpeed = integrateFlight(data.x, data.force, c, mass, v * (1 + more));
    const double speedDoubt = uncertaintyBudget(*at->speed).expanded / 2 / std::max(at->speed->value(), 1e-9);
    const auto set = [&](const char* symbol, const Unit& unit, auto value, const std::string& words,
                         const std::string& rule) {
        const double is = value(flight);
        f.set(symbol,
              integralTerm(symbol, unit, is, (value(byForce) - is) / more, (value(bySpeed) - is) / more, speedDoubt, f,
                           words, rule));
    };
    set(
        "d_at_max", baseUnit(Kind::Length), [&](const Flight& w) { return w.at(w.way, c.peakTime); },
        "deflection at the greatest force", "a = g − F/m, integrated twice");
    set(
        "E_at_max", J, [&](const Flight& w) { return w.at(w.energy, c.peakTime); },
        "energy given to the plate at the greatest force", "½·m·(v_i² − v²) + m·g·δ");
    if (c.end)
        set(
            "E_a", J, [](const Flight& w) { return w.energy.back(); }, "energy absorbed when the contact ends",
            "½·m·(v_i² − v²) + m·g·δ");
    checkFlight(f, flight, mass, v, c.end.has_value());
    drawBlow(f, c, &flight, data.x, data.force);
    return Done{};
}

} // namespace fortitor
