package plenzo.e2e;

import plenzo.demo.Teller;

/** The one table whose rows these tests change, as the test stage holds it in the beginning. */
final class Surcharges {
  private Surcharges() {}

  /** What test holds becomes fares 1.0.0, with the rows of surcharges. */
  static void adopt(Teller teller) {
    teller.run(
        "ines",
        0,
        "app",
        "adopt",
        "fares",
        "--site",
        "test",
        "--number",
        "1.0.0",
        "--title",
        "What was there",
        "--everything",
        "--records",
        "fares.surcharge");
  }
}
