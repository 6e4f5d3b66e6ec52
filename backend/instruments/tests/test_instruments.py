"""Instruments through the API: the same pyserial code reads a stand-in's port as it would a real one."""

from __future__ import annotations

from typing import Any

from django.test import TestCase, override_settings, tag

from girder_core.ground import GirderError
from girder_core.measure import Kind, Sent, parse, steady
from girder_core.trial import hopper_trace, scale_lines
from instruments.adapter import listen
from instruments.standin import talking
from people.tests.support import Api, teacher


class Ports(TestCase):
    """Stand-ins at the other end of a pseudo-terminal."""

    def test_lines_come_over_the_port(self) -> None:
        # A machine that stands still for a moment hears many lines at once, and is told to read again.
        with talking(scale_lines(0.0384, 30, 5)) as device:
            readings = (steady(listen(device, 2.6), Kind.MASS) for _ in range(9))
            weighing = next(filter(lambda one: one.settled, readings))
        self.assertAlmostEqual(weighing.value, 0.0384, delta=0.0003)

    def code(self, device: str, seconds: float = 0.6) -> str:
        with self.assertRaises(GirderError) as caught:
            steady(listen(device, seconds), Kind.MASS)
        return caught.exception.code

    def test_a_plug_that_is_pulled(self) -> None:
        with talking(scale_lines(0.0384, 3, 5), pulled_after_s=0.3) as device:
            self.assertEqual(self.code(device, 2), "instrument_unplugged")
        self.assertEqual(self.code("/dev/no-such-port"), "instrument_unplugged")

    def test_a_port_on_which_nothing_comes(self) -> None:
        with talking([]) as device:
            self.assertEqual(self.code(device), "instrument_silent")

    def test_a_wrong_speed(self) -> None:
        with talking(scale_lines(0.0384, 2, 5), garble=True) as device:
            self.assertIn(self.code(device, 1), ("instrument_garbage", "instrument_silent"))

    def test_a_line_without_end_does_not_fill_the_memory(self) -> None:
        with talking([Sent(0.01 * n, "x" * 500) for n in range(20)]) as device:
            self.assertEqual(self.code(device), "instrument_garbage")


class ThroughTheApi(TestCase):
    def setUp(self) -> None:
        self.api = Api(teacher())

    def read(self, address: str, **more: object) -> tuple[int, dict[str, Any]]:
        status, body = self.api.call("POST", "instruments/read", {"address": address, "kind": "mass", **more})
        return status, body

    @tag("slow")
    def test_the_practice_scale(self) -> None:
        status, answer = self.read("stand-in:scale", lies_on_it="38.4 g")
        self.assertEqual((status, answer["settled"], answer["step_text"]), (200, True, "0.1 g"))
        self.assertIn(answer["text"], ("38.3 g", "38.4 g", "38.5 g"))

    @tag("slow")
    def test_practice_gauges_and_a_practice_log(self) -> None:
        status, pull = self.read("stand-in:force", lies_on_it="430 g")
        self.assertEqual((status, pull["settled"]), (200, True))
        away = self.api.send("POST", "instruments/read",
                             {"address": "stand-in:distance", "kind": "length", "lies_on_it": "81 cm"})  # fmt: skip
        self.assertAlmostEqual(away["value"], 0.81, delta=0.001)
        self.assertEqual(self.read("stand-in:distance")[1]["code"], "unknown_instrument")
        log = self.api.call("GET", "force-logs/practice")[1].content.decode()
        self.assertTrue(self.api.send("POST", "force-logs", {"text": log})["broke"])

    @tag("slow")
    def test_a_scale_is_tared_over_the_line(self) -> None:
        status, zero = self.read("stand-in:scale", lies_on_it="212 g", tare=True)
        self.assertEqual((status, zero["settled"]), (200, True))
        self.assertAlmostEqual(zero["value"], 0, delta=0.0003)
        _, filled = self.read("stand-in:scale", lies_on_it="250 g", tared_with="212 g")
        self.assertAlmostEqual(filled["value"], 0.038, delta=0.0003)
        self.assertEqual(self.read("stand-in:scale", tared_with="212 g")[1]["code"], "instrument_negative")

    @tag("slow")
    def test_a_shaking_table_is_held_against_its_level(self) -> None:
        level = {"frequency_hz": 1.4, "stroke_m": 0.024}
        answer = self.api.send("POST", "instruments/table", {"address": "stand-in:table", **level})
        self.assertTrue(answer["as_agreed"], answer)
        self.assertAlmostEqual(answer["frequency_hz"], 1.4, delta=0.03)
        slipping = self.api.send("POST", "instruments/table", {"address": "stand-in:slipping", **level})
        self.assertIn("frequency is", slipping["says"])
        status, scale = self.api.call("POST", "instruments/table", {"address": "stand-in:scale", **level})
        self.assertEqual((status, scale["code"]), (400, "unknown_instrument"))
        status, table = self.api.call("POST", "instruments/read", {"address": "stand-in:table", "kind": "frequency"})
        self.assertEqual((status, table["code"]), (400, "unknown_instrument"))

    @tag("slow")
    def test_what_goes_wrong_is_said(self) -> None:
        status, answer = self.read("stand-in:draught", lies_on_it="38.4 g")
        self.assertEqual((status, answer["settled"]), (200, False))
        for address, code in (("stand-in:loose", "instrument_unplugged"), ("/dev/sda", "unknown_instrument")):
            status, answer = self.read(address, lies_on_it="38.4 g")
            self.assertEqual((status, answer["code"]), (400, code))
        self.assertEqual(self.read("stand-in:scale", lies_on_it="heavy")[1]["code"], "not_a_number")

    @override_settings(SERIAL_PORTS=False)
    def test_a_shared_server_offers_no_ports_of_its_own(self) -> None:
        self.assertTrue(all(instrument["simulated"] for instrument in self.api.get("instruments")))

    def test_lines_from_a_browsers_own_port(self) -> None:
        lines = [{"at_s": 0.2 * n, "text": "ST +38.4 g"} for n in range(9)]
        state = self.api.send("POST", "instruments/lines", {"kind": "mass", "lines": lines})
        self.assertEqual((state["text"], state["settled"]), ("38.4 g", True))
        answer = self.api.refused("POST", "instruments/lines", {"kind": "mass", "lines": []})[1]
        self.assertEqual(answer["code"], "instrument_silent")

    def test_a_force_log(self) -> None:
        trace = hopper_trace(12, 1.5, 1)
        rows = "\n".join(f"{t:.3f},{f:.4f}" for t, f in zip(trace.time_s, trace.force_n, strict=True))
        answer = self.api.send("POST", "force-logs", {"text": f"time_s,force_n\n{rows}\n9,\n", "speed": "1 mm"})
        self.assertTrue(answer["broke"])
        self.assertAlmostEqual(answer["held_n"], 12, delta=0.5)
        # Newtons a second over metres a second.
        self.assertAlmostEqual(answer["stiffness_n_m"], 1500, delta=80)
        self.assertEqual(answer["gaps"], 1)
        # As it would be typed at the bench: 12 N weigh as much as 1.22 kg.
        self.assertRegex(answer["text"], r"^1\.[12]\d* kg$")
        self.assertTrue(0 < parse(answer["step_text"], Kind.MASS).si < 0.5)
        self.assertEqual(self.api.refused("POST", "force-logs", {"text": "a,b\n1,2"})[1]["code"], "bad_trace")
