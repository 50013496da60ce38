"""Tests of Wise Compass. Run with ./run-tests."""
